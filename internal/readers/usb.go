package readers

import (
	"bytes"
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// USB is what a machine says of its buses. What a listing does not tell is null.
type USB struct {
	Controllers []USBController `json:"controllers" doc:"Null, in the API an empty list, when the listings do not tell which buses are one controller"`
	Devices     []USBDevice     `json:"devices"`
	Incomplete  bool            `json:"incomplete"`
	Problems    []Problem       `json:"problems"`
}

// USBController is one controller and the buses it owns, a 480 Mb/s one and a fast one as a rule.
type USBController struct {
	ID    string `json:"id"`
	Buses []int  `json:"buses"`
}

// USBDevice is one device or hub; root hubs have the path usb1, usb2, …
type USBDevice struct {
	Path        *string   `json:"path" doc:"bus-port.port… as the kernel names it"`
	Bus         int       `json:"bus"`
	Dev         int       `json:"dev"`
	Parent      *string   `json:"parent"`
	Port        *int      `json:"port"`
	Name        *string   `json:"name"`
	SpeedMbps   *float64  `json:"speedMbps"`
	Hub         *bool     `json:"hub"`
	HubPorts    *int      `json:"hubPorts"`
	MaxPowerMA  *int      `json:"maxPowerMa"`
	SelfPowered *bool     `json:"selfPowered"`
	Classes     []int     `json:"classes"`
	UVC         *bool     `json:"uvc" doc:"It sends pictures as a plain webcam"`
	IsoAlt      []AltSpec `json:"isoAlt" doc:"What each alternate setting reserves"`
	Peers       []Peer    `json:"peers,omitempty" doc:"Of a hub: which of its ports are one socket with which port of another"`
}

// Peer says that a port of a hub is one socket with a port of another: a socket, or a hub, of USB 3 is two in one.
type Peer struct {
	Port int    `json:"port"`
	Is   string `json:"is" doc:"Path of what is plugged in there"`
}

// AltSpec is one alternate setting of an interface that reserves bandwidth.
type AltSpec struct {
	Interface        int `json:"interface"`
	Alt              int `json:"alt"`
	BytesPerInterval int `json:"bytesPerInterval"`
	IntervalUs       int `json:"intervalUs"`
}

// Text is one listing with the name of its file.
type Text struct {
	Name string
	Data []byte
}

// ReadUSB reads lsusb -t and lsusb -v texts, in any order, together. An error means that nothing at all could be read.
func ReadUSB(texts []Text) (*USB, error) {
	r := &usbReader{byKey: map[[2]int]*USBDevice{}, serial: map[int]string{}}
	var firstBad error
	for _, t := range texts {
		if i := bytes.IndexByte(t.Data, 0); i >= 0 {
			firstBad = cmp.Or(firstBad,
				fmt.Errorf("%s: byte %d is 0: this is no text; want what lsusb -t or lsusb -v prints", t.Name, i))
			t.Data = withoutZeros(t.Data, func(line int) {
				r.problem(t.Name, line, "this line holds a zero byte and is left out")
			})
		}
		if len(bytes.TrimSpace(t.Data)) == 0 {
			firstBad = cmp.Or(firstBad, fmt.Errorf("%s: the listing is empty: want what lsusb -t or lsusb -v prints",
				t.Name))
			r.problem(t.Name, 1, "the listing is empty")
			continue
		}
		before := len(r.devices)
		switch {
		case bytes.Contains(t.Data, []byte("/:  Bus")) || bytes.Contains(t.Data, []byte("|__ Port")):
			r.tree(t)
		default:
			r.verbose(t)
		}
		if len(r.devices) == before && len(r.problems) > 0 {
			p := r.problems[len(r.problems)-1]
			firstBad = cmp.Or(firstBad, fmt.Errorf("%s: line %d: %s", t.Name, p.Line, p.Text))
		}
	}
	if len(r.devices) == 0 {
		return nil, cmp.Or(firstBad, fmt.Errorf("no device is listed: want what lsusb -t or lsusb -v prints"))
	}
	return r.result(), nil
}

// withoutZeros leaves lines with zero bytes out of a text and tells which; the others are read.
func withoutZeros(data []byte, bad func(line int)) []byte {
	lines := bytes.Split(data, []byte("\n"))
	for i := range lines {
		if bytes.IndexByte(lines[i], 0) >= 0 {
			bad(i + 1)
			lines[i] = nil
		}
	}
	return bytes.Join(lines, []byte("\n"))
}

type usbReader struct {
	devices  []*USBDevice
	byKey    map[[2]int]*USBDevice // bus, dev
	problems []Problem
	trees    bool
	details  bool
	inTree   map[[2]int]bool
	inDetail map[[2]int]bool
	serial   map[int]string // bus -> what the root hub calls its controller
	ports    map[[2]int]map[int]bool
}

func (r *usbReader) problem(file string, line int, format string, args ...any) {
	r.problems = append(r.problems, Problem{file, line, fmt.Sprintf(format, args...)})
}

func (r *usbReader) device(bus, dev int) *USBDevice {
	k := [2]int{bus, dev}
	if d := r.byKey[k]; d != nil {
		return d
	}
	d := &USBDevice{Bus: bus, Dev: dev, Classes: []int{}, IsoAlt: []AltSpec{}}
	r.byKey[k] = d
	r.devices = append(r.devices, d)
	return d
}

// classNumbers are the words lsusb -t has for classes [standard: USB-IF base classes].
var classNumbers = map[string]int{"Audio": 1, "Communications": 2, "Human Interface Device": 3,
	"Physical Interface Device": 5, "Imaging": 6, "Printer": 7, "Mass Storage": 8,
	"Hub": 9, "CDC Data": 10, "Chip/SmartCard": 11, "Content Security": 13, "Video": 14, "Personal Healthcare": 15,
	"Audio/Video": 16, "Billboard": 17,
	"Wireless": 224, "Miscellaneous": 239, "Miscellaneous Device": 239, "Application Specific Interface": 254,
	"Vendor Specific Class": 255}

// tree reads lsusb -t: each line names a port of the hub above it.
func (r *usbReader) tree(t Text) {
	if r.inTree == nil {
		r.inTree, r.ports = map[[2]int]bool{}, map[[2]int]map[int]bool{}
	}
	r.trees = true
	seenBus := map[int]bool{}
	var above []*USBDevice // by depth, the root first
	lines := strings.Split(string(t.Data), "\n")
	for i, raw := range lines {
		n := i + 1
		line := strings.TrimRight(raw, " \r\t")
		if strings.TrimSpace(line) == "" || strings.HasPrefix(strings.TrimSpace(line), "ID ") ||
			strings.HasPrefix(strings.TrimSpace(line), "/sys/") || strings.HasPrefix(strings.TrimSpace(line), "/dev/") {
			continue // what -tv adds
		}
		whole := i < len(lines)-1
		if rest, ok := strings.CutPrefix(strings.TrimLeft(line, " "), "/:  Bus "); ok {
			bus, fields, err := treeHead(rest)
			if err != nil || !speedField(fields, nil) {
				r.cut(t.Name, n, line, whole)
				if err != nil { // without its number nothing can hang on it
					above = nil
					continue
				}
			}
			if seenBus[bus] || r.inTree[[2]int{bus, 1}] {
				r.problem(t.Name, n, "bus %d is listed twice: are these listings of two machines?", bus)
			}
			seenBus[bus] = true
			d := r.device(bus, atoi(fields["Dev"]))
			path := fmt.Sprintf("usb%d", bus)
			hub := true
			d.Path, d.Hub = &path, &hub
			r.fill(d, fields)
			above = []*USBDevice{d}
			continue
		}
		at := strings.Index(line, "|__ Port ")
		if at < 0 || at%4 != 0 {
			r.cut(t.Name, n, line, whole)
			continue
		}
		depth := at / 4
		port, fields, err := treePort(line[at+len("|__ Port "):])
		if err != nil || !speedField(fields, nil) {
			r.cut(t.Name, n, line, whole)
			if err != nil || !whole {
				continue
			}
		}
		if depth < 1 || depth > len(above) || above[depth-1] == nil {
			r.problem(t.Name, n, "%q hangs on nothing: the line of its hub is missing", clip(strings.TrimSpace(line)))
			continue
		}
		parent := above[depth-1]
		if depth > 6 {
			r.problem(t.Name, n, "more than five hubs in a chain: %q", clip(strings.TrimSpace(line)))
		}
		if parent.HubPorts != nil && port > *parent.HubPorts {
			r.problem(t.Name, n, "port %d of a hub with %d ports: there is none", port, *parent.HubPorts)
			continue
		}
		d := r.device(parent.Bus, atoi(fields["Dev"]))
		if d == parent {
			r.problem(t.Name, n, "device %d of bus %d hangs on itself", d.Dev, d.Bus)
			continue
		}
		if d.Port != nil && *d.Port != port || d.Parent != nil && *d.Parent != *parent.Path {
			r.problem(t.Name, n, "device %d of bus %d stands in two places: are these listings of two machines?",
				d.Dev, d.Bus)
			continue
		}
		path := pathOf(parent, port)
		up := *parent.Path
		d.Path, d.Parent, d.Port = &path, &up, &port
		r.fill(d, fields)
		above = append(above[:depth], d)
	}
}

func pathOf(parent *USBDevice, port int) string {
	if strings.HasPrefix(*parent.Path, "usb") {
		return fmt.Sprintf("%d-%d", parent.Bus, port)
	}
	return fmt.Sprintf("%s.%d", *parent.Path, port)
}

func (r *usbReader) cut(file string, line int, text string, whole bool) {
	if whole {
		r.problem(file, line, "%q is no line of lsusb -t", clip(strings.TrimSpace(text)))
	} else {
		r.problem(file, line, "%q: the listing ends in the middle of this line", clip(strings.TrimSpace(text)))
	}
}

// treeHead reads "02.Port 1: Dev 1, Class=root_hub, …".
func treeHead(s string) (bus int, fields map[string]string, err error) {
	busText, rest, ok := strings.Cut(s, ".Port ")
	bus, err = strconv.Atoi(busText)
	if !ok || err != nil {
		return 0, nil, fmt.Errorf("no bus")
	}
	_, fields, err = treePort(rest)
	return bus, fields, err
}

// treePort reads "3: Dev 4, If 0, Class=Video, Driver=uvcvideo, 480M".
func treePort(s string) (port int, fields map[string]string, err error) {
	portText, rest, ok := strings.Cut(s, ": ")
	port, err = strconv.Atoi(portText)
	if !ok || err != nil {
		return 0, nil, fmt.Errorf("no port")
	}
	fields = map[string]string{}
	for _, part := range strings.Split(rest, ", ") {
		switch {
		case strings.HasPrefix(part, "Dev "):
			fields["Dev"] = part[4:]
		case strings.HasPrefix(part, "If "):
			fields["If"] = part[3:]
		case strings.Contains(part, "="):
			k, v, _ := strings.Cut(part, "=")
			fields[k] = v
		case speedPart.MatchString(part): // two lanes are told behind it: 20000M/x2
			fields["speed"], _, _ = strings.Cut(part, "M")
		}
	}
	if _, err := strconv.Atoi(fields["Dev"]); err != nil {
		return 0, nil, fmt.Errorf("no device number")
	}
	return port, fields, nil
}

var speedPart = regexp.MustCompile(`^[\d.]+M(/x\d)?$`)

// speedField reads the speed at the end of a line; without one the line was cut.
func speedField(fields map[string]string, into *float64) bool {
	v, err := strconv.ParseFloat(fields["speed"], 64)
	if into != nil {
		*into = v
	}
	return err == nil && v > 0 && v <= 200_000
}

func (r *usbReader) fill(d *USBDevice, fields map[string]string) {
	var speed float64
	if speedField(fields, &speed) {
		d.SpeedMbps = &speed
	}
	r.inTree[[2]int{d.Bus, d.Dev}] = true
	class, driver := fields["Class"], fields["Driver"]
	if n, ok := classNumbers[class]; ok && !slices.Contains(d.Classes, n) {
		d.Classes = append(d.Classes, n)
	}
	hub := class == "Hub" || class == "root_hub"
	if d.Hub == nil || hub {
		d.Hub = &hub
	}
	if _, ports, ok := strings.Cut(driver, "/"); ok && hub {
		if n, err := strconv.Atoi(strings.TrimSuffix(ports, "p")); err == nil {
			d.HubPorts = &n
		}
	}
	video := class == "Video" || driver == "uvcvideo"
	if d.UVC == nil || video {
		d.UVC = &video
	}
}

// verbose reads lsusb -v: a block for each device.
func (r *usbReader) verbose(t Text) {
	if r.inDetail == nil {
		r.inDetail = map[[2]int]bool{}
	}
	r.details = true
	var d *USBDevice
	v := &verboseState{}
	lines := strings.Split(string(t.Data), "\n")
	for i, raw := range lines {
		n := i + 1
		line := strings.TrimRight(raw, " \r\t")
		text := strings.TrimSpace(line)
		if text == "" {
			continue
		}
		if strings.HasPrefix(line, "Bus ") {
			var bus, dev int
			if _, err := fmt.Sscanf(line, "Bus %d Device %d: ID ", &bus, &dev); err != nil ||
				!strings.Contains(line, ": ID ") || bus < 1 || dev < 1 {
				r.problem(t.Name, n, "%q is no head of a device: want \"Bus 001 Device 002: ID …\"", clip(line))
				d = nil
				continue
			}
			k := [2]int{bus, dev}
			if r.inDetail[k] {
				r.problem(t.Name, n, "device %d of bus %d is described twice: are these listings of two machines?",
					dev, bus)
			}
			r.inDetail[k] = true
			d = r.device(bus, dev)
			v = &verboseState{}
			_, name, _ := strings.Cut(line, ": ID ")
			if _, words, ok := strings.Cut(name, " "); ok && strings.TrimSpace(words) != "" {
				w := strings.TrimSpace(words)
				d.Name = &w
			}
			continue
		}
		if d == nil {
			if i == 0 || len(r.problems) == 0 || r.problems[len(r.problems)-1].Line < n-1 {
				r.problem(t.Name, n, "%q stands before any device: want what lsusb -v prints", clip(text))
			}
			continue
		}
		if i == len(lines)-1 && !strings.HasSuffix(string(t.Data), "\n") && !complete(text) {
			r.problem(t.Name, n, "%q: the listing ends in the middle of this line", clip(text))
			continue
		}
		r.detail(d, v, text)
	}
}

// complete tells whether a last line without a line end can be trusted: closing brackets and words end it.
func complete(text string) bool {
	return strings.HasSuffix(text, ")") || strings.HasSuffix(text, "mA") || strings.HasSuffix(text, "bytes")
}

// verboseState is where in a device's block the reader is.
type verboseState struct {
	iface, alt int
	iso        bool
	packet     int
	interval   int
	burst      int // of a SuperSpeed endpoint: packets more than one in a burst
	mult       int // bursts more than one in an interval
}

func (r *usbReader) detail(d *USBDevice, v *verboseState, text string) {
	name, value, _ := strings.Cut(text, " ")
	value = strings.TrimSpace(value)
	first, rest, _ := strings.Cut(value, " ")
	switch name {
	case "bDeviceClass", "bInterfaceClass":
		n, err := strconv.Atoi(first)
		if err != nil {
			return
		}
		if n != 0 && !slices.Contains(d.Classes, n) {
			d.Classes = append(d.Classes, n)
		}
		if name == "bDeviceClass" {
			hub := n == 9
			d.Hub = &hub
		}
		video := n == 14
		if d.UVC == nil || video {
			d.UVC = &video
		}
	case "iProduct":
		if w := strings.TrimSpace(rest); w != "" {
			d.Name = &w
		}
	case "iSerial":
		if w := strings.TrimSpace(rest); d.Dev == 1 && w != "" {
			r.serial[d.Bus] = w
		}
	case "MaxPower":
		if n, err := strconv.Atoi(strings.TrimSuffix(first, "mA")); err == nil && n >= 0 && n <= 10_000 {
			d.MaxPowerMA = &n
		}
	case "Self", "(Bus", "Self-Powered":
		self := name != "(Bus"
		d.SelfPowered = &self
	case "bNbrPorts", "nNbrPorts":
		if n, err := strconv.Atoi(first); err == nil {
			d.HubPorts = &n
		}
	case "Negotiated":
		if _, mbps, ok := strings.Cut(text, "("); ok {
			if f, err := strconv.ParseFloat(strings.TrimSuffix(mbps, "Mbps)"), 64); err == nil {
				d.SpeedMbps = &f
			}
		}
	case "bInterfaceNumber":
		v.iface, v.alt, v.iso = atoi(first), 0, false
	case "bAlternateSetting":
		v.alt = atoi(first)
	case "Transfer":
		v.iso, v.burst, v.mult = strings.HasSuffix(text, "Isochronous"), 0, 0
	case "wMaxPacketSize":
		n, err := strconv.ParseInt(strings.TrimPrefix(first, "0x"), 16, 32)
		if err == nil {
			v.packet = packetBytes(int(n))
		}
	case "bInterval":
		v.interval = atoi(first)
		if v.iso && v.packet > 0 {
			r.iso(d, v)
		}
	case "bMaxBurst":
		v.burst = atoi(first)
		v.companion(d)
	case "Mult":
		v.mult = atoi(first)
		v.companion(d)
	case "wBytesPerInterval":
		if n := atoi(first); v.iso && n > 0 && len(d.IsoAlt) > 0 {
			d.IsoAlt[len(d.IsoAlt)-1].BytesPerInterval = n
		}
	}
	if strings.HasPrefix(text, "(Self Powered)") || text == "Self Powered" {
		self := true
		d.SelfPowered = &self
	}
	if strings.HasPrefix(text, "(Bus Powered)") {
		self := false
		d.SelfPowered = &self
	}
}

// packetBytes is what one interval moves: the packet × the transactions of a high-bandwidth endpoint [standard: USB
// 2.0, 9.6.6].
func packetBytes(w int) int { return (w & 0x7ff) * (1 + w>>11&3) }

// companion widens the alternate setting that was read last by what its SuperSpeed companion says: where a listing
// leaves wBytesPerInterval out, packet × (bMaxBurst + 1) × (Mult + 1) is its upper bound [standard: USB 3.2, 9.6.7].
func (v *verboseState) companion(d *USBDevice) {
	if v.iso && len(d.IsoAlt) > 0 && v.burst <= 15 && v.mult <= 2 {
		d.IsoAlt[len(d.IsoAlt)-1].BytesPerInterval = v.packet * (v.burst + 1) * (v.mult + 1)
	}
}

// iso notes an alternate setting. Intervals are 2^(bInterval−1) microframes of 125 µs, or frames of 1 ms at full speed.
func (r *usbReader) iso(d *USBDevice, v *verboseState) {
	unit := 125
	if d.SpeedMbps != nil && *d.SpeedMbps < 100 {
		unit = 1000
	}
	interval := unit << max(0, min(v.interval-1, 15))
	alt := AltSpec{v.iface, v.alt, v.packet, interval}
	for i := range d.IsoAlt {
		if have := &d.IsoAlt[i]; have.Interface == v.iface && have.Alt == v.alt {
			have.BytesPerInterval = max(have.BytesPerInterval, v.packet)
			return
		}
	}
	d.IsoAlt = append(d.IsoAlt, alt)
}

// result puts the listings together and says where they do not fit.
func (r *usbReader) result() *USB {
	out := &USB{Devices: []USBDevice{}, Problems: []Problem{}}
	if r.trees && r.details {
		for _, d := range r.devices {
			k := [2]int{d.Bus, d.Dev}
			switch {
			case !r.inTree[k]:
				r.problem("", 0,
					"device %d of bus %d is described and stands in no tree: are the listings of one machine?", d.Dev,
					d.Bus)
			case !r.inDetail[k]:
				r.problem("", 0,
					"device %d of bus %d stands in the tree and is not described: are the listings of one machine?",
					d.Dev, d.Bus)
			}
		}
	}
	slices.SortStableFunc(r.devices, func(a, b *USBDevice) int {
		return cmp.Or(cmp.Compare(a.Bus, b.Bus), comparePaths(a, b))
	})
	for _, d := range r.devices {
		if d.Dev == 1 && d.Path == nil {
			path := fmt.Sprintf("usb%d", d.Bus)
			hub := true
			d.Path, d.Hub = &path, &hub
		}
		slices.Sort(d.Classes)
		out.Devices = append(out.Devices, *d)
	}
	if len(r.serial) > 0 {
		out.Controllers = []USBController{}
		for _, d := range r.devices {
			id := r.serial[d.Bus]
			if d.Dev != 1 || id == "" {
				continue
			}
			at := slices.IndexFunc(out.Controllers, func(c USBController) bool { return c.ID == id })
			if at < 0 {
				out.Controllers = append(out.Controllers, USBController{ID: id})
				at = len(out.Controllers) - 1
			}
			out.Controllers[at].Buses = append(out.Controllers[at].Buses, d.Bus)
		}
	}
	out.Problems = append(out.Problems, r.problems...)
	out.Incomplete = len(out.Problems) > 0
	return out
}

// comparePaths orders devices as a tree is read: a hub before what hangs on it, ports by number.
func comparePaths(a, b *USBDevice) int {
	if a.Path == nil || b.Path == nil {
		return cmp.Compare(a.Dev, b.Dev)
	}
	split := func(d *USBDevice) []string {
		if strings.HasPrefix(*d.Path, "usb") {
			return nil
		}
		_, ports, _ := strings.Cut(*d.Path, "-")
		return strings.Split(ports, ".")
	}
	x, y := split(a), split(b)
	for i := range min(len(x), len(y)) {
		if c := cmp.Compare(atoi(x[i]), atoi(y[i])); c != 0 {
			return c
		}
	}
	return cmp.Compare(len(x), len(y))
}
