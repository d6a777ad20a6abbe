package readers

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/core/usb"
	"eventether/internal/demo/rigs"
	"eventether/internal/rigfile"
)

const newTree = `/:  Bus 001.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/12p, 480M
    |__ Port 003: Dev 002, If 0, Class=Hub, Driver=hub/4p, 480M
        |__ Port 001: Dev 004, If 0, Class=Video, Driver=uvcvideo, 480M
        |__ Port 001: Dev 004, If 1, Class=Video, Driver=uvcvideo, 480M
        |__ Port 001: Dev 004, If 2, Class=Audio, Driver=snd-usb-audio, 480M
        |__ Port 002: Dev 005, If 0, Class=Human Interface Device, Driver=usbhid, 1.5M
    |__ Port 007: Dev 003, If 0, Class=Mass Storage, Driver=usb-storage, 480M
/:  Bus 002.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/6p, 10000M
    |__ Port 002: Dev 002, If 0, Class=Video, Driver=uvcvideo, 5000M
`

// What versions of lsusb before 016 print.
var oldTree = strings.NewReplacer("Bus 001.Port 001", "Bus 01.Port 1", "Bus 002.Port 001", "Bus 02.Port 1", "Dev 00",
	"Dev ", "|__ Port 00", "|__ Port ").Replace(newTree)

const details = `
Bus 001 Device 001: ID 0000:0002 Invented 2.0 root hub
Couldn't open device, some information will be missing
Device Descriptor:
  bDeviceClass            9 Hub
  iSerial                 1 0000:00:14.0

Bus 002 Device 001: ID 0000:0003 Invented 3.0 root hub
Device Descriptor:
  bDeviceClass            9 Hub
  iSerial                 1 0000:00:14.0

Bus 001 Device 004: ID 0000:1234 Invented
Device Descriptor:
  bLength                18
  bDeviceClass          239 Miscellaneous Device
  iProduct                2 Two-port stick
  Configuration Descriptor:
    bmAttributes         0x80
      (Bus Powered)
    MaxPower              500mA
    Interface Descriptor:
      bInterfaceNumber        1
      bAlternateSetting       0
      bInterfaceClass        14 Video
    Interface Descriptor:
      bInterfaceNumber        1
      bAlternateSetting       7
      bInterfaceClass        14 Video
      Endpoint Descriptor:
        bEndpointAddress     0x83  EP 3 IN
        bmAttributes            5
          Transfer Type            Isochronous
        wMaxPacketSize     0x1400  3x 1024 bytes
        bInterval               1
`

func read(t require.TestingT, texts ...string) *USB {
	var in []Text
	for _, s := range texts {
		in = append(in, Text{"listing", []byte(s)})
	}
	u, err := ReadUSB(in)
	require.NoError(t, err)
	return u
}

func find(u *USB, path string) *USBDevice {
	for i := range u.Devices {
		if p := u.Devices[i].Path; p != nil && *p == path {
			return &u.Devices[i]
		}
	}
	return nil
}

func TestTreeInBothManners(t *testing.T) {
	u := read(t, newTree)
	require.Equal(t, u, read(t, oldTree), "old and new manner say the same")
	require.Equal(t, u, read(t, strings.ReplaceAll(newTree, "\n", "\r\n")))
	require.False(t, u.Incomplete, "%v", u.Problems)
	require.Len(t, u.Devices, 7)
	stick := find(u, "1-3.1")
	require.Equal(t, "1-3", *stick.Parent)
	require.Equal(t, []int{1, 14}, stick.Classes)
	require.True(t, *stick.UVC)
	require.Equal(t, 480.0, *stick.SpeedMbps)
	require.Equal(t, 4, *find(u, "1-3").HubPorts)
	require.Equal(t, 5000.0, *find(u, "2-2").SpeedMbps)
	require.Nil(t, stick.MaxPowerMA, "a tree does not tell the current")
	require.Nil(t, u.Controllers, "nor which buses are one controller")
	b, err := json.Marshal(u)
	require.NoError(t, err)
	require.Contains(t, string(b), `"controllers":null`)
	require.Contains(t, string(b), `"maxPowerMa":null`)
}

func TestTreeAndDetailsTogether(t *testing.T) {
	for _, order := range [][]string{{newTree, details}, {details, newTree}} {
		u := read(t, order...)
		require.Equal(t, []USBController{{ID: "0000:00:14.0", Buses: []int{1, 2}}}, u.Controllers)
		stick := find(u, "1-3.1")
		require.Equal(t, "Two-port stick", *stick.Name)
		require.Equal(t, 500, *stick.MaxPowerMA)
		require.False(t, *stick.SelfPowered)
		// 3 transactions of 1,024 bytes in each microframe: 24.576 MB/s [standard: USB 2.0, 5.9.1].
		require.Equal(t, []AltSpec{{1, 7, 3072, 125}}, stick.IsoAlt)
		require.True(t, u.Incomplete, "devices of the tree without details are said")
	}
}

func TestListingsThatAreWrong(t *testing.T) {
	deep := "/:  Bus 001.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/4p, 480M\n"
	for i := range 6 {
		deep += strings.Repeat("    ", i+1) + "|__ Port 001: Dev 00" + strconv.Itoa(i+2) +
			", If 0, Class=Hub, Driver=hub/4p, 480M\n"
	}
	deep += strings.Repeat("    ", 7) + "|__ Port 001: Dev 009, If 0, Class=Video, Driver=uvcvideo, 480M\n"
	head := "/:  Bus 001.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/4p, 480M\n"
	for name, c := range map[string]struct {
		text string
		line int
		says string
	}{
		"cut in the middle of a line": {newTree[:len(newTree)-30], 9, "ends in the middle"},
		"two machines":                {newTree + newTree, 10, "two machines"},
		"a hub on itself": {head + "    |__ Port 002: Dev 001, If 0, Class=Hub, Driver=hub/4p, 480M\n",
			2, "hangs on itself"},
		"too deep": {deep, 8, "more than five hubs"},
		"no such port": {head + "    |__ Port 009: Dev 002, If 0, Class=Video, Driver=uvcvideo, 480M\n",
			2, "port 9 of a hub with 4 ports"},
		"the hub's line is missing": {head + "            |__ Port 001: Dev 002, If 0, Class=Video, Driver=uvcvideo, 480M\n", 2, "hangs on nothing"},
		"a negative speed": {head +
			"    |__ Port 001: Dev 002, If 0, Class=Video, Driver=uvcvideo, -480M\n", 2, "is no line of lsusb -t"},
		"an absurd speed": {head +
			"    |__ Port 001: Dev 002, If 0, Class=Video, Driver=uvcvideo, 9e99M\n", 2, "is no line of lsusb -t"},
		"noise between": {head + "what is this\n", 2, "is no line of lsusb -t"},
		"details, a head that is cut": {details + "Bus 003 Dev", strings.Count(details, "\n") + 1,
			"no head of a device"},
		"details twice": {details + details, strings.Count(details, "\n") + 2, "described twice"},
	} {
		u := read(t, c.text)
		require.True(t, u.Incomplete, name)
		require.NotEmpty(t, u.Devices, name)
		require.Contains(t, u.Problems[0].Text, c.says, name)
		require.Equal(t, c.line, u.Problems[0].Line, name)
	}
	for name, c := range map[string]struct {
		texts []Text
		says  string
	}{
		"empty":  {[]Text{{"a.txt", nil}}, "a.txt: the listing is empty"},
		"blanks": {[]Text{{"a.txt", []byte(" \r\n\n")}}, "a.txt: the listing is empty"},
		"binary": {[]Text{{"a.txt", []byte("Bus\x00\x01")}}, "byte 3 is 0: this is no text"},
		"a novel": {[]Text{{"a.txt", []byte("Call me anything.\n")}},
			"a.txt: line 1: \"Call me anything.\" stands before any device"},
		"nothing": {nil, "no device is listed"},
	} {
		_, err := ReadUSB(c.texts)
		require.ErrorContains(t, err, c.says, name)
	}
}

// Whatever is cut off or changed, the reader does not fall over, and what it read up to there stands.
func TestAnyCutIsRead(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := []byte(rapid.SampledFrom([]string{newTree, oldTree, details}).Draw(t, "text"))
		n := rapid.IntRange(0, len(text)).Draw(t, "cut")
		for range rapid.IntRange(0, 3).Draw(t, "changes") {
			text[rapid.IntRange(0, len(text)-1).Draw(t, "at")] = rapid.Byte().Draw(t, "byte")
		}
		u, err := ReadUSB([]Text{{"x", text[:n]}})
		if err == nil {
			require.Equal(t, len(u.Problems) > 0, u.Incomplete)
			for _, d := range u.Devices {
				require.Positive(t, d.Bus)
			}
		}
	})
}

// Descriptor types, classes and transfer types against the kernel's own header (linux-libc-dev).
func TestConstantsAreTheKernels(t *testing.T) {
	header, err := os.ReadFile("/usr/include/linux/usb/ch9.h")
	require.NoError(t, err, "linux-libc-dev is needed")
	value := func(name string) int {
		m := regexp.MustCompile(`#define\s+` + name + `\s+(\S+)`).FindSubmatch(header)
		require.NotNil(t, m, name)
		n, err := strconv.ParseInt(string(m[1]), 0, 32)
		require.NoError(t, err)
		return int(n)
	}
	for name, n := range map[string]int{"USB_DT_DEVICE": descriptorDevice, "USB_DT_INTERFACE": descriptorInterface,
		"USB_DT_ENDPOINT":         descriptorEndpoint,
		"USB_DT_SS_ENDPOINT_COMP": descriptorCompanion, "USB_ENDPOINT_XFER_ISOC": endpointIso,
		"USB_CLASS_AUDIO": classAudio, "USB_CLASS_HID": classHID,
		"USB_CLASS_MASS_STORAGE": classStorage, "USB_CLASS_VIDEO": classVideo, "USB_CLASS_HUB": classNumbers["Hub"],
		"USB_CLASS_PRINTER": classNumbers["Printer"],
		"USB_CLASS_COMM":    classNumbers["Communications"], "USB_CLASS_CDC_DATA": classNumbers["CDC Data"],
		"USB_CLASS_MISC":        classNumbers["Miscellaneous"],
		"USB_CLASS_VENDOR_SPEC": classNumbers["Vendor Specific Class"],
		"USB_CLASS_BILLBOARD":   classNumbers["Billboard"], "USB_CLASS_AUDIO_VIDEO": classNumbers["Audio/Video"]} {
		require.Equal(t, value(name), n, name)
	}
	require.Regexp(t, `USB_CONFIG_ATT_SELFPOWER\s+\(1 << 6\)`, string(header))
	// The two bits of more transactions stand at 11 and 12.
	require.Regexp(t, `USB_EP_MAXP_MULT_SHIFT\s+11`, string(header))
	require.Equal(t, 3072, packetBytes(2<<11|1024))
}

// What usbutils print on this very machine is read; a machine without USB says so.
func TestThisMachinesListing(t *testing.T) {
	for _, how := range [][]string{{"-t"}, {"-v"}} {
		out, _ := exec.Command("lsusb", how...).Output()
		u, err := ReadUSB([]Text{{"lsusb", out}})
		if len(strings.TrimSpace(string(out))) == 0 {
			require.ErrorContains(t, err, "the listing is empty", "a machine without USB")
			continue
		}
		require.NoError(t, err)
		require.NotEmpty(t, u.Devices)
		require.False(t, u.Incomplete, "%v", u.Problems)
	}
}

// Two lanes, bursts, lines with a zero byte in them, and lines that are wrong: the rest is read.
func TestListingsOfNewMachines(t *testing.T) {
	u := read(t, strings.Replace(newTree, "10000M", "20000M/x2", 1))
	require.EqualValues(t, 20000, *find(u, "usb2").SpeedMbps)
	require.False(t, u.Incomplete, "%v", u.Problems)

	u = read(t, newTree, strings.Replace(strings.Replace(details, "0x1400  3x 1024", "0x0400  1x 1024", 1),
		"        bInterval               1\n",
		"        bInterval               1\n        bMaxBurst              15\n        Mult                    2\n", 1))
	alt := find(u, "1-3.1").IsoAlt
	require.NotEmpty(t, alt)
	require.Equal(t, 1024*16*3, alt[len(alt)-1].BytesPerInterval,
		"USB 3.2, 9.6.7: packet × (bMaxBurst + 1) × (Mult + 1)")

	for _, bad := range []string{strings.Replace(newTree, "    |__ Port 007", "  \x00  |__ Port 007", 1),
		strings.Replace(newTree, "Port 002: Dev 005", "Port x: Dev y", 1)} {
		u = read(t, bad)
		require.True(t, u.Incomplete)
		require.NotEmpty(t, u.Problems)
		require.NotNil(t, find(u, "2-2"), "lines behind the bad one are read")
		require.NotNil(t, find(u, "1-3.1"))
	}
}

// A machine with more sockets than a sheet may have, and a device whose name is no name, become a rig that can be kept.
func TestReadingsThatAreTooMuch(t *testing.T) {
	var text strings.Builder
	for bus := 1; bus <= 9; bus++ {
		fmt.Fprintf(&text, "/:  Bus %03d.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/15p, 480M\n", bus)
		fmt.Fprintf(&text, "    |__ Port 014: Dev 002, If 0, Class=Video, Driver=uvcvideo, 480M\n")
	}
	long := strings.Repeat("long ", 60) + "\u202e\x07"
	u := read(t, text.String(), strings.Replace(details, "Device 004", "Device 002", 1),
		strings.Replace(details, "Two-port stick", long, 1))
	plan, err := ToRig(rigs.Loft(), u, nil)
	require.NoError(t, err)
	after, err := rigfile.Change(rigs.Loft(), plan.Edits)
	require.NoError(t, err, "what is planned can be kept")
	require.LessOrEqual(t, len(after.Host().Gear.Ports), 64)
	require.GreaterOrEqual(t, after.Host().Gear.Port("bus-9-port-14"), 0, "sockets in use come first")
	require.Contains(t, strings.Join(plan.Left, "\n"), "sockets with nothing in them")
}

// No listing makes reading panic, and a plan leaves a rig that can be kept.
func FuzzUSB(f *testing.F) {
	f.Add([]byte(newTree))
	f.Add([]byte(oldTree))
	f.Add([]byte(details))
	f.Add([]byte("/:  Bus 001.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/12p, 20000M/x2\n\x00\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		u, err := ReadUSB([]Text{{"listing", data}})
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		plan, err := ToRig(rigs.Loft(), u, nil)
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		_, err = rigfile.Change(rigs.Loft(), plan.Edits)
		require.NoError(t, err)
	})
}

// A reading becomes the rig's computer; devices of the rig are found by the name programs list them under.
func TestReadingBecomesARig(t *testing.T) {
	r := rigs.Loft()
	at := slices.IndexFunc(r.Items, func(it rig.Item) bool { return it.Gear.Kind == gear.Capture })
	stick := &r.Items[at]
	text := strings.Replace(details, "Two-port stick", stick.Gear.Name, 1)
	u := read(t, newTree, text)
	plan, err := ToRig(r, u, nil)
	require.NoError(t, err)
	require.NotEmpty(t, plan.Found)
	after, err := rig.Apply(r, plan.Edits...)
	require.NoError(t, err)
	require.Empty(t, rig.Check(after))
	host := after.Host()
	p := host.Gear.Port("bus-1-port-12")
	require.GreaterOrEqual(t, p, 0)
	require.Equal(t, usb.HighSpeed, host.Gear.Ports[p].USB.Speed)
	require.Equal(t, "0000-00-14-0", host.Gear.Ports[p].Controller)
	hub := after.Item("hub-1-3")
	require.NotNil(t, hub)
	require.Equal(t, gear.Hub, hub.Gear.Kind)
	require.True(t, slices.ContainsFunc(after.Leads, func(l rig.Lead) bool {
		return l.From == "hub-1-3.up" && l.To == host.ID+".bus-1-port-3"
	}))
	require.True(t, slices.ContainsFunc(after.Leads, func(l rig.Lead) bool {
		from, _ := rig.SplitRef(l.From)
		return from == stick.ID && l.To == "hub-1-3.p1"
	}))
	drive := slices.IndexFunc(after.Items, func(it rig.Item) bool {
		return it.Gear.Kind == gear.Drive && r.Item(it.ID) == nil
	})
	require.GreaterOrEqual(t, drive, 0, "what the rig did not have is added as its class says")
	require.Equal(t, len(r.Leads), len(slices.DeleteFunc(slices.Clone(after.Leads), func(l rig.Lead) bool {
		return r.Lead(l.ID) == nil
	})), "no lead of the rig is lost")
	again, err := ToRig(after, u, nil)
	require.NoError(t, err)
	require.NotEmpty(t, again.Found)

	_, err = ToRig(&rig.Rig{}, u, nil)
	require.ErrorContains(t, err, "no computer")
}
