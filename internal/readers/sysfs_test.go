package readers

import (
	"encoding/binary"
	"errors"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/require"

	"eventether/core/edid"
	"eventether/internal/demo/rigs"
	"eventether/internal/rigfile"
)

// machine is a folder laid out like /sys: a controller with two buses, a hub with a stick on it, a display.
func machine() fstest.MapFS {
	fs := fstest.MapFS{}
	put := func(dir string, files map[string]string) {
		for name, text := range files {
			fs[dir+"/"+name] = &fstest.MapFile{Data: []byte(text)}
		}
	}
	usb := func(name string, files map[string]string) { put("bus/usb/devices/"+name, files) }
	usb("usb1", map[string]string{"busnum": "1\n", "devnum": "1\n", "speed": "480\n", "maxchild": "12\n",
		"serial": "0000:00:14.0\n", "product": "Host\n"})
	usb("usb2", map[string]string{"busnum": "2\n", "devnum": "1\n", "speed": "10000\n", "maxchild": "6\n",
		"serial": "0000:00:14.0\n"})
	usb("1-3", map[string]string{"busnum": "1\n", "devnum": "2\n", "speed": "480\n", "maxchild": "4\n",
		"bMaxPower": "100mA\n", "bmAttributes": "e0\n"})
	iso := []byte{7, 5, 0x83, 5, 0, 0x14, 1}
	stick := append([]byte{18, 1, 0, 2, 0xef, 2, 1, 64, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1},
		[]byte{9, 4, 1, 7, 1, 14, 2, 0, 0}...)
	usb("1-3.1", map[string]string{"busnum": "1\n", "devnum": "4\n", "speed": "480\n", "maxchild": "0\n",
		"product": "Two-port stick\n", "bMaxPower": "500mA\n", "bmAttributes": "80\n",
		"descriptors": string(append(stick, iso...))})
	fast := append([]byte{9, 4, 1, 1, 1, 14, 2, 0, 0}, 7, 5, 0x83, 5, 0, 4, 1)
	fast = append(fast, 6, 0x30, 15, 2, 0, 0)
	binary.LittleEndian.PutUint16(fast[len(fast)-2:], 48*1024)
	usb("2-2", map[string]string{"busnum": "2\n", "devnum": "2\n", "speed": "5000\n", "maxchild": "0\n",
		"descriptors": string(fast)})
	put("bus/usb/devices/1-3.1:1.1/video4linux/video0", map[string]string{"name": "x"})
	put("class/video4linux/video0", map[string]string{"name": "Two-port stick: one\n", "index": "0\n"})
	put("class/video4linux/video1", map[string]string{"name": "Two-port stick: one\n", "index": "1\n"})
	put("class/drm/card0-HDMI-A-1", map[string]string{"edid": string(edid.Sample(16))})
	put("class/drm/card0-HDMI-A-2", map[string]string{"edid": ""})
	return fs
}

func TestSysfs(t *testing.T) {
	const listing = "ioctl: VIDIOC_ENUM_FMT\n\tType: Video Capture\n\n\t[0]: 'YUYV' (YUYV 4:2:2)\n\t\tSize: Discrete 1920x1080\n\t\t\tInterval: Discrete 0.033s (30.000 fps)\n"
	var asked []string
	h, err := Sysfs(machine(), func(video string) ([]byte, error) {
		asked = append(asked, video)
		return []byte(listing), nil
	})
	require.NoError(t, err)
	require.Equal(t, []string{"video0"}, asked, "the second node of a device is its metadata")
	require.False(t, h.USB.Incomplete, "%v", h.USB.Problems)
	require.Equal(t, []USBController{{ID: "0000:00:14.0", Buses: []int{1, 2}}}, h.USB.Controllers)
	var paths []string
	for _, d := range h.USB.Devices {
		paths = append(paths, *d.Path)
	}
	require.Equal(t, []string{"usb1", "1-3", "1-3.1", "usb2", "2-2"}, paths)
	hub, stick := h.USB.Devices[1], h.USB.Devices[2]
	require.True(t, *hub.SelfPowered)
	require.Equal(t, 4, *hub.HubPorts)
	require.False(t, *stick.SelfPowered)
	require.Equal(t, "1-3", *stick.Parent)
	require.True(t, *stick.UVC)
	require.Equal(t, []AltSpec{{1, 7, 3072, 125}}, stick.IsoAlt)
	require.Equal(t, 48*1024, h.USB.Devices[4].IsoAlt[0].BytesPerInterval, "a companion descriptor tells the fast side")
	require.Len(t, h.Captures, 1)
	require.Equal(t, "1-3.1", h.Captures[0].Path)
	require.NotEmpty(t, h.Captures[0].Listing.Modes)
	require.Len(t, h.Displays, 1)
	require.NotEmpty(t, h.Displays[0].Reading.Maker)
}

// No file below /sys makes reading panic, whatever one device's files hold.
func FuzzSysfs(f *testing.F) {
	f.Add("480", []byte{18, 1, 0, 2}, "12")
	f.Add("20000", []byte(strings.Repeat("\x09\x02", 30)), "-1")
	f.Add("", []byte{0}, "\x00")
	f.Fuzz(func(t *testing.T, speed string, descriptors []byte, ports string) {
		m := machine()
		for name := range m {
			switch {
			case strings.HasSuffix(name, "/speed"):
				m[name] = &fstest.MapFile{Data: []byte(speed)}
			case strings.HasSuffix(name, "/descriptors"):
				m[name] = &fstest.MapFile{Data: descriptors}
			case strings.HasSuffix(name, "/maxchild"):
				m[name] = &fstest.MapFile{Data: []byte(ports)}
			}
		}
		h, err := Sysfs(m, func(string) ([]byte, error) { return descriptors, nil })
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		plan, err := ToRig(rigs.Loft(), h.USB, nil)
		require.NoError(t, err)
		_, err = rigfile.Change(rigs.Loft(), plan.Edits)
		require.NoError(t, err)
	})
}

func TestSysfsThatIsWrong(t *testing.T) {
	_, err := Sysfs(fstest.MapFS{}, nil)
	require.ErrorContains(t, err, "shows no USB devices")
	fs := machine()
	delete(fs, "bus/usb/devices/2-2/devnum")
	fs["bus/usb/devices/1-3.1/descriptors"] = &fstest.MapFile{Data: []byte{9, 4, 1, 7, 1, 14, 2, 0, 0, 200, 5}}
	h, err := Sysfs(fs, func(string) ([]byte, error) { return nil, errors.New("away") })
	require.NoError(t, err)
	require.True(t, h.USB.Incomplete)
	require.Len(t, h.USB.Problems, 2)
	require.Len(t, h.USB.Devices, 4, "what could be read stands")
	require.Contains(t, h.USB.Problems[0].Text+h.USB.Problems[1].Text, "a descriptor of 200 bytes where 2 are left")
	require.Nil(t, h.Captures[0].Listing)
}
