package readers

import (
	"encoding/binary"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strconv"
	"strings"

	"eventether/core/edid"
)

// Here is what a running Linux system says of itself.
type Here struct {
	USB      *USB      `json:"usb"`
	Displays []Display `json:"displays" doc:"Sinks on this computer's own picture outputs"`
	Captures []Capture `json:"captures" doc:"Devices that send pictures, with what they deliver where it could be read"`
	Laptop   bool      `json:"laptop" doc:"By the type of its chassis"`
	Machine  *Machine  `json:"machine,omitempty" doc:"What it says of itself besides its sockets"`
}

// portable are the chassis types of things one carries [standard: DMTF DSP0134 (SMBIOS) 7.4.1, from memory]: portable,
// laptop, notebook, hand held, sub notebook, tablet, convertible, detachable.
var portable = []string{"8", "9", "10", "11", "14", "30", "31", "32"}

// Laptop tells by the type of the chassis whether a system is one that is carried; false where it does not say.
func Laptop(sys fs.FS) bool {
	text, err := fs.ReadFile(sys, "class/dmi/id/chassis_type")
	return err == nil && slices.Contains(portable, strings.TrimSpace(string(text)))
}

// Display is one attached sink.
type Display struct {
	Output  string        `json:"output" doc:"As the kernel names it, card0-HDMI-A-1"`
	Reading *edid.Reading `json:"reading"`
}

// Capture is one attached device that sends pictures.
type Capture struct {
	Video   string   `json:"video" doc:"video0"`
	Name    string   `json:"name"`
	Path    string   `json:"path" doc:"Of its USB device"`
	Listing *Listing `json:"listing,omitempty" doc:"Left out when its formats could not be listed"`
}

// Sysfs reads a folder laid out like /sys. formats lists what a video device delivers; nil when nothing can.
func Sysfs(sys fs.FS, formats func(video string) ([]byte, error)) (*Here, error) {
	out := &Here{USB: &USB{Controllers: []USBController{}, Devices: []USBDevice{}, Problems: []Problem{}},
		Displays: []Display{}, Captures: []Capture{}}
	entries, err := fs.ReadDir(sys, "bus/usb/devices")
	if err != nil {
		return nil, fmt.Errorf("this system shows no USB devices: %w", err)
	}
	out.Laptop = Laptop(sys)
	s := &sysfsReader{sys: sys, out: out, videos: map[string]string{}}
	for _, e := range entries {
		name := e.Name()
		if owner, _, isInterface := strings.Cut(name, ":"); isInterface {
			videos, _ := fs.ReadDir(sys, path.Join("bus/usb/devices", name, "video4linux"))
			for _, v := range videos {
				s.videos[v.Name()] = owner
			}
			continue
		}
		s.device(name)
	}
	slices.SortFunc(out.USB.Devices, func(a, b USBDevice) int {
		if a.Bus != b.Bus {
			return a.Bus - b.Bus
		}
		return comparePaths(&a, &b)
	})
	s.displays()
	s.captures(formats)
	out.USB.Incomplete = len(out.USB.Problems) > 0
	if len(out.USB.Devices) == 0 {
		return nil, fmt.Errorf("this system shows no USB devices")
	}
	return out, nil
}

type sysfsReader struct {
	sys    fs.FS
	out    *Here
	videos map[string]string // video device -> path of its USB device
}

func (s *sysfsReader) text(name string) (string, bool) {
	b, err := fs.ReadFile(s.sys, name)
	return strings.TrimSpace(string(b)), err == nil
}

func (s *sysfsReader) number(name string) (int, bool) {
	t, ok := s.text(name)
	n, err := strconv.Atoi(strings.TrimSuffix(t, "mA"))
	return n, ok && err == nil
}

func (s *sysfsReader) device(name string) {
	dir := "bus/usb/devices/" + name
	d := USBDevice{Path: &name, Classes: []int{}, IsoAlt: []AltSpec{}}
	var ok1, ok2 bool
	d.Bus, ok1 = s.number(dir + "/busnum")
	d.Dev, ok2 = s.number(dir + "/devnum")
	if !ok1 || !ok2 {
		s.out.USB.Problems = append(s.out.USB.Problems,
			Problem{File: dir, Text: "no bus or device number: the device may be going away"})
		return
	}
	if bus, ports, isDevice := strings.Cut(name, "-"); isDevice {
		parent := "usb" + bus
		last := ports
		if i := strings.LastIndexByte(ports, '.'); i >= 0 {
			parent, last = bus+"-"+ports[:i], ports[i+1:]
		}
		if port, err := strconv.Atoi(last); err == nil {
			d.Parent, d.Port = &parent, &port
		}
	} else {
		s.controller(dir, d.Bus)
	}
	if t, ok := s.text(dir + "/product"); ok && t != "" {
		d.Name = &t
	}
	if t, ok := s.text(dir + "/speed"); ok {
		if f, err := strconv.ParseFloat(t, 64); err == nil {
			d.SpeedMbps = &f
		}
	}
	if n, ok := s.number(dir + "/maxchild"); ok {
		hub := n > 0
		d.Hub = &hub
		if hub {
			d.HubPorts = &n
			d.Peers = s.peers(name, n)
		}
	}
	if n, ok := s.number(dir + "/bMaxPower"); ok {
		d.MaxPowerMA = &n
	}
	if t, ok := s.text(dir + "/bmAttributes"); ok {
		if n, err := strconv.ParseUint(t, 16, 8); err == nil {
			self := n&0x40 != 0
			d.SelfPowered = &self
		}
	}
	if raw, err := fs.ReadFile(s.sys, dir+"/descriptors"); err == nil {
		s.descriptors(&d, raw, dir)
	}
	uvc := slices.Contains(d.Classes, 14)
	d.UVC = &uvc
	slices.Sort(d.Classes)
	s.out.USB.Devices = append(s.out.USB.Devices, d)
}

// peers are the ports of a hub that are one socket with another's [documented: sysfs-bus-usb, port/peer].
func (s *sysfsReader) peers(name string, ports int) (out []Peer) {
	folder := "bus/usb/devices/" + name + "/" + name + ":1.0/" + name
	if bus, root := strings.CutPrefix(name, "usb"); root {
		folder = "bus/usb/devices/" + name + "/" + bus + "-0:1.0/" + name
	}
	for k := 1; k <= min(ports, 64); k++ {
		to, err := fs.ReadLink(s.sys, folder+"-port"+strconv.Itoa(k)+"/peer")
		if err != nil {
			continue
		}
		hub, port, ok := strings.Cut(to[strings.LastIndexByte(to, '/')+1:], "-port")
		n, err := strconv.Atoi(port)
		if !ok || err != nil {
			s.out.USB.Problems = append(s.out.USB.Problems, Problem{File: folder, Text: "port " + strconv.Itoa(k) +
				" has a peer with a name that tells no hub: " + to})
			continue
		}
		out = append(out, Peer{k, portPath(hub, n)})
	}
	return out
}

// portPath is the path of what is plugged into a port of a hub.
func portPath(hub string, port int) string {
	if bus, root := strings.CutPrefix(hub, "usb"); root {
		return bus + "-" + strconv.Itoa(port)
	}
	return hub + "." + strconv.Itoa(port)
}

// controller names the PCI device a root hub belongs to: the folder above it on the real path, or its serial number.
func (s *sysfsReader) controller(dir string, bus int) {
	id, ok := s.text(dir + "/serial")
	if !ok || id == "" {
		return
	}
	list := &s.out.USB.Controllers
	at := slices.IndexFunc(*list, func(c USBController) bool { return c.ID == id })
	if at < 0 {
		*list = append(*list, USBController{ID: id})
		at = len(*list) - 1
	}
	(*list)[at].Buses = append((*list)[at].Buses, bus)
}

// Descriptor types [standard: USB 2.0, Table 9-5; USB 3.2, Table 9-6; checked against linux/usb/ch9.h].
const (
	descriptorDevice    = 0x01
	descriptorInterface = 0x04
	descriptorEndpoint  = 0x05
	descriptorCompanion = 0x30
	endpointIso         = 0x01
)

// descriptors reads the descriptors file: the device's, then its configurations', one behind the other.
func (s *sysfsReader) descriptors(d *USBDevice, b []byte, dir string) {
	iface, alt, iso, packet := 0, 0, false, 0
	class := func(n byte) {
		if n != 0 && !slices.Contains(d.Classes, int(n)) {
			d.Classes = append(d.Classes, int(n))
		}
	}
	for i := 0; i < len(b); {
		length := int(b[i])
		if length < 2 || i+length > len(b) {
			s.out.USB.Problems = append(s.out.USB.Problems, Problem{File: dir + "/descriptors",
				Text: fmt.Sprintf("byte %d: a descriptor of %d bytes where %d are left", i, length, len(b)-i)})
			return
		}
		x := b[i : i+length]
		switch x[1] {
		case descriptorDevice:
			if length > 4 {
				class(x[4])
			}
		case descriptorInterface:
			if length > 5 {
				iface, alt = int(x[2]), int(x[3])
				class(x[5])
			}
		case descriptorEndpoint:
			iso = length > 6 && x[3]&3 == endpointIso
			if iso {
				packet = packetBytes(int(binary.LittleEndian.Uint16(x[4:])))
				v := &verboseState{iface: iface, alt: alt, packet: packet, interval: int(x[6])}
				(&usbReader{}).iso(d, v)
			}
		case descriptorCompanion:
			if iso && length > 5 && len(d.IsoAlt) > 0 {
				if n := int(binary.LittleEndian.Uint16(x[4:])); n > 0 {
					d.IsoAlt[len(d.IsoAlt)-1].BytesPerInterval = n
				} else {
					(&verboseState{iso: true, packet: packet, burst: int(x[2]), mult: int(x[3] & 3)}).companion(d)
				}
			}
		}
		i += length
	}
}

func (s *sysfsReader) displays() {
	entries, _ := fs.ReadDir(s.sys, "class/drm")
	for _, e := range entries {
		raw, err := fs.ReadFile(s.sys, path.Join("class/drm", e.Name(), "edid"))
		if err == nil && len(raw) > 0 {
			s.out.Displays = append(s.out.Displays, Display{e.Name(), edid.Decode(raw)})
		}
	}
}

func (s *sysfsReader) captures(formats func(string) ([]byte, error)) {
	entries, _ := fs.ReadDir(s.sys, "class/video4linux")
	for _, e := range entries {
		dir := path.Join("class/video4linux", e.Name())
		if n, ok := s.number(dir + "/index"); ok && n > 0 {
			continue // its metadata, not its pictures
		}
		c := Capture{Video: e.Name(), Path: s.videos[e.Name()]}
		c.Name, _ = s.text(dir + "/name")
		if formats != nil {
			if text, err := formats(e.Name()); err == nil {
				c.Listing, _ = Formats(text)
			}
		}
		s.out.Captures = append(s.out.Captures, c)
	}
}
