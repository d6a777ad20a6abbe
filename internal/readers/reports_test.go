package readers

import (
	"encoding/json"
	"io/fs"
	"os"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"eventether/core/rig"
	"eventether/internal/demo/rigs"
)

func reports(t *testing.T, names ...string) *Here {
	var texts []Text
	for _, name := range names {
		data, err := os.ReadFile("testdata/reports/" + name)
		require.NoError(t, err)
		texts = append(texts, Text{name, data})
	}
	h, err := ReadReports(texts)
	require.NoError(t, err)
	return h
}

func device(t *testing.T, h *Here, path string) *USBDevice {
	for i := range h.USB.Devices {
		if d := &h.USB.Devices[i]; *d.Path == path {
			return d
		}
	}
	t.Fatalf("no device at %s", path)
	return nil
}

// A system's profile as JSON [memory]: controllers, a hub with a stick in it, what the machine is made of; what is not known
// of it is named.
func TestProfile(t *testing.T) {
	h := reports(t, "profile.json")
	require.Len(t, h.USB.Controllers, 2)
	hub, stick := device(t, h, "2-1"), device(t, h, "2-1.2")
	assert.True(t, *hub.Hub)
	assert.Equal(t, 480.0, *hub.SpeedMbps)
	assert.Equal(t, "Two-port stick", *stick.Name)
	assert.Equal(t, 5000.0, *stick.SpeedMbps)
	assert.Equal(t, 896, *stick.MaxPowerMA)
	assert.True(t, h.Laptop)
	assert.Equal(t, "Quill S2", h.Machine.Processor)
	assert.Equal(t, 8, h.Machine.Threads)
	assert.Equal(t, 16.0, h.Machine.MemoryGB)
	assert.Equal(t, []Drive{{Mount: "/", System: "apfs", SizeGB: 494.4, FreeGB: 120.5},
		{Mount: "/Volumes/Show disk", System: "exfat", SizeGB: 1000, FreeGB: 800, Leaves: true, Rotates: true}}, h.Machine.Drives)
	assert.Equal(t, "battery", h.Machine.Power)
	assert.Equal(t, 81, h.Machine.BatteryPct)
	assert.Equal(t, "off", h.Machine.Sleep)
	assert.Equal(t, []string{"Quill S2"}, h.Machine.Graphics)
	assert.Equal(t, "Two-port stick", h.Captures[0].Name)
	require.Len(t, h.USB.Problems, 1)
	assert.Contains(t, h.USB.Problems[0].Text, "SPMadeUpDataType was not read")
	soundRig(t, h)
}

// Devices by the paths of their sockets, as the other system's own tool prints them [memory].
func TestDevicesByPath(t *testing.T) {
	h := reports(t, "devices.json")
	stick := device(t, h, "1-4.2")
	assert.Equal(t, "Two-port stick", *stick.Name)
	assert.Equal(t, []int{classVideo, classAudio}, stick.Classes, "interfaces of one device come one by one")
	assert.True(t, *stick.UVC)
	assert.True(t, *device(t, h, "1-4").Hub)
	assert.Len(t, h.USB.Controllers, 2)
	assert.Equal(t, 16, h.Machine.Threads)
	assert.Equal(t, 34.2, h.Machine.MemoryGB)
	assert.Equal(t, []Drive{{Mount: "C:", System: "ntfs", SizeGB: 1000, FreeGB: 400.1},
		{Mount: "E:", System: "vfat", SizeGB: 64, FreeGB: 60, Leaves: true}}, h.Machine.Drives)
	assert.Equal(t, "mains", h.Machine.Power)
	var said []string
	for _, p := range h.USB.Problems {
		said = append(said, p.Text)
	}
	assert.Contains(t, strings.Join(said, "; "), "no speeds")
	assert.Contains(t, strings.Join(said, "; "), "one USB device: the report does not say where they hang")
	soundRig(t, h)
}

// soundRig fails when a rig cannot become like a reading.
func soundRig(t *testing.T, h *Here) {
	for _, r := range []*rig.Rig{rigs.Loft(), rigs.Hall()} {
		plan, err := ToRig(r, h.USB, rigs.Shelf())
		require.NoError(t, err)
		after, err := rig.Apply(r, plan.Edits...)
		require.NoError(t, err)
		edits, _ := h.Machine.Edits(after.Host(), "2026-09-01")
		after, err = rig.Apply(after, edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(after))
	}
}

// Names of devices, as ffmpeg lists them on systems it cannot be run on here [memory].
func TestListedDevices(t *testing.T) {
	h, err := ReadReports([]Text{{"a", []byte("[dshow @ 000001] \"Full-HD stick\" (video)\n[dshow @ 000001]   Alternative name \"@device_pnp\"\r\n[dshow @ 000001] \"Desk box\" (audio)\n")},
		{"b", []byte("[AVFoundation indev @ 0x7f] AVFoundation video devices:\n[AVFoundation indev @ 0x7f] [0] Two-port stick\n[AVFoundation indev @ 0x7f] AVFoundation audio devices:\n[AVFoundation indev @ 0x7f] [0] Desk box\n")}})
	require.NoError(t, err)
	require.Len(t, h.Captures, 2)
	assert.Equal(t, "Full-HD stick", h.Captures[0].Name)
	assert.Equal(t, "Two-port stick", h.Captures[1].Name)
	assert.True(t, h.USB.Incomplete)
}

// Our own reading of another machine comes back as it was.
func TestOurOwnReading(t *testing.T) {
	was, err := Sysfs(machine(), nil)
	require.NoError(t, err)
	was.Machine = ReadMachine(proc, fstest.MapFS{}, nil, "", room)
	text, err := json.Marshal(was)
	require.NoError(t, err)
	h, err := ReadReports([]Text{{"here.json", text}})
	require.NoError(t, err)
	assert.Equal(t, was.USB, h.USB)
	assert.Equal(t, was.Machine, h.Machine)
	soundRig(t, h)
}

// What is no report is said to be none; nothing of it breaks anything.
func TestReportsThatAreNone(t *testing.T) {
	for name, c := range map[string][2]string{
		"cut short":     {`{"SPUSBDataType": [`, "no whole JSON"},
		"nothing known": {`{"weather": []}`, "nothing in it is known"},
		"a list":        {`[1, 2]`, "no whole JSON"},
		"empty":         {``, "empty"},
		"ours, broken":  {`{"usb": 7, "captures": []}`, "does not hold together"},
	} {
		_, err := ReadReports([]Text{{"x.json", []byte(c[0])}})
		require.ErrorContains(t, err, c[1], name)
	}
	deep := strings.Repeat(`{"_name":"hub","_items":[`, 60) + strings.Repeat("]}", 60)
	h, err := ReadReports([]Text{{"deep.json", []byte(`{"SPUSBDataType":[` + deep + `],"battery":null,"drives":"C:"}`)}})
	require.NoError(t, err)
	assert.Less(t, len(h.USB.Devices), 12)
	assert.Len(t, h.USB.Problems, 2, "%v", h.USB.Problems)
}

// The two halves of a USB 3 socket, and of a hub in it, are one socket and one hub with a fast and a slow device in it
// [documented: sysfs-bus-usb, port/peer].
func TestHalvesAreOne(t *testing.T) {
	sys := machine()
	link := func(from, to string) {
		sys["bus/usb/devices/"+from+"/peer"] = &fstest.MapFile{Mode: fs.ModeSymlink, Data: []byte("../../../" + to)}
	}
	put := func(name string, files map[string]string) {
		for f, text := range files {
			sys["bus/usb/devices/"+name+"/"+f] = &fstest.MapFile{Data: []byte(text)}
		}
	}
	put("2-4", map[string]string{"busnum": "2", "devnum": "5", "speed": "5000", "maxchild": "4", "product": "Four-port hub"})
	put("2-4.2", map[string]string{"busnum": "2", "devnum": "6", "speed": "5000", "maxchild": "0", "product": "Full-HD stick",
		"descriptors": string([]byte{9, 4, 1, 0, 0, 14, 1, 0, 0})})
	link("usb1/1-0:1.0/usb1-port3", "usb2/2-0:1.0/usb2-port4")
	link("usb2/2-0:1.0/usb2-port4", "usb1/1-0:1.0/usb1-port3")
	for _, k := range []string{"1", "2"} {
		link("1-3/1-3:1.0/1-3-port"+k, "2-4/2-4:1.0/2-4-port"+k)
		link("2-4/2-4:1.0/2-4-port"+k, "1-3/1-3:1.0/1-3-port"+k)
	}
	h, err := Sysfs(sys, nil)
	require.NoError(t, err)
	require.Empty(t, h.USB.Problems)
	require.Equal(t, []Peer{{3, "2-4"}}, device(t, h, "usb1").Peers)
	require.Equal(t, []Peer{{1, "1-3.1"}, {2, "1-3.2"}}, device(t, h, "2-4").Peers)
	r := rigs.LoftEven()
	plan, err := ToRig(r, h.USB, rigs.Shelf())
	require.NoError(t, err)
	after, err := rig.Apply(r, plan.Edits...)
	require.NoError(t, err)
	require.Empty(t, rig.Check(after))
	hubs := 0
	for _, e := range plan.Edits {
		if e.Do == "add" && e.NewItem.Gear.Kind == "hub" {
			hubs++
			assert.Len(t, e.NewItem.Gear.Ports, 5)
		}
	}
	assert.Equal(t, 1, hubs, "%v", plan.Added)
	host := after.Host()
	assert.Negative(t, host.Gear.Port("bus-1-port-3"), "one socket, by its faster half")
	assert.GreaterOrEqual(t, host.Gear.Port("bus-2-port-4"), 0)
	assert.GreaterOrEqual(t, host.Gear.Port("bus-1-port-4"), 0, "a socket of USB 2 alone stays")
	var ports []string
	for i := range after.Leads {
		if strings.HasPrefix(after.Leads[i].To, "hub-") {
			ports = append(ports, after.Leads[i].To)
		}
	}
	assert.ElementsMatch(t, []string{"hub-2-4.p1", "hub-2-4.p2"}, ports, "the slow stick and the fast one in one hub")
	again, err := ToRig(after, h.USB, rigs.Shelf())
	require.NoError(t, err)
	assert.Empty(t, again.Added, "reading it again lays nothing on top")
}

// Whatever a report holds, reading it ends, and what is read becomes a sound rig or is refused.
func FuzzReports(f *testing.F) {
	for _, name := range []string{"profile.json", "devices.json"} {
		data, err := os.ReadFile("testdata/reports/" + name)
		require.NoError(f, err)
		f.Add(data)
	}
	f.Add([]byte(`{"usb":{"devices":[{"bus":1,"dev":1,"path":null,"peers":[{"port":1,"is":"x"}]}]},"captures":[],"displays":[{"reading":null}],"machine":{"drives":[{"freeGB":-4}],"power":"steam"}}`))
	f.Add([]byte(`{"devices":{"id":"USB\\\\X","paths":"A#USBROOT(0)#USB(99999999999999999999)"},"battery":[null,7],"drives":[{"Size":1e300,"FreeSpace":"x","DriveType":3}]}`))
	f.Add([]byte("[dshow @ 1] \"a\" (video)\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		h, err := ReadReports([]Text{{"a", data}, {"b", []byte(`{"devices":[]}`)}})
		if err != nil {
			return
		}
		r := rigs.LoftEven()
		plan, err := ToRig(r, h.USB, rigs.Shelf())
		if err != nil {
			return
		}
		after, err := rig.Apply(r, plan.Edits...)
		require.NoError(t, err)
		require.Empty(t, rig.Check(after))
		if h.Machine != nil {
			edits, _ := h.Machine.Edits(after.Host(), "2026-09-01")
			after, err = rig.Apply(after, edits...)
			require.NoError(t, err)
			require.Empty(t, rig.Check(after))
		}
	})
}
