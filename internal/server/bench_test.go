package server

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/require"

	"eventether/core/bench"
	"eventether/core/gear"
	"eventether/core/rig"
)

// By hand at the board: an act comes back as edits that can be held, and what cannot be done says why in words.
func TestActsByHand(t *testing.T) {
	s := serve(t)
	doc := loft(t)
	post := func(path, more string) (int, string) {
		status, body, _ := call(t, s, "POST", path, `{"rig":`+doc+`,`+more+`}`)
		return status, body
	}
	status, body := post("/api/act", `"act":{"do":"more","entry":"camcorder","count":2}`)
	require.Equal(t, 200, status, body)
	var done bench.Done
	require.NoError(t, json.Unmarshal([]byte(body), &done))
	require.Equal(t, "Put in 2 × Camcorder", done.What)
	status, body, _ = call(t, s, "POST", "/api/try", `{"rig":`+doc+`,"edits":`+asJSON(t, done.Edits)+`}`)
	require.Equal(t, 200, status, body)

	for act, why := range map[string]string{
		`{"do":"more","entry":"nothing-such"}`:                         "nothing-such is not on the shelf",
		`{"do":"more"}`:                                                "choose a thing of the shelf first",
		`{"do":"out","at":"gone"}`:                                     "gone is not in this rig any more",
		`{"do":"between","at":"gone","entry":"splitter"}`:              "gone is no lead of this rig any more",
		`{"do":"dance"}`:                                               "dance is nothing that can be done at the board",
		`{"do":"connect","at":"cam-bench.hdmi","to":"pc.x"}`:           "it is not in this rig any more",
		`{"do":"connect","at":"cam-bench.hdmi","to":"cam-bench.hdmi"}`: "that is the same socket",
	} {
		status, body = post("/api/act", `"act":`+act)
		require.Equal(t, 422, status, act)
		require.Contains(t, body, why, act)
	}
	status, body = post("/api/offers", `"act":{"do":"out","at":"cam-bench"}`)
	require.Equal(t, 422, status, body)
	status, body = post("/api/fits", `"socket":"cam-bench.none"`)
	require.Equal(t, 422, status)
	require.Contains(t, body, "no socket cam-bench.none")
}

// thisMachine is a laptop laid out like /sys: a webcam and a capture stick are plugged in.
func thisMachine() fstest.MapFS {
	fs := fstest.MapFS{"class/dmi/id/chassis_type": {Data: []byte("10\n")}}
	usb := func(name string, files map[string]string) {
		for file, text := range files {
			fs["bus/usb/devices/"+name+"/"+file] = &fstest.MapFile{Data: []byte(text)}
		}
	}
	video := string([]byte{18, 1, 0, 2, 0xef, 2, 1, 64, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 9, 4, 1, 7, 1, 14, 2, 0, 0,
		7, 5, 0x83, 5, 0, 0x14, 1})
	usb("usb1", map[string]string{"busnum": "1\n", "devnum": "1\n", "speed": "480\n", "maxchild": "4\n",
		"serial": "0000:00:14.0\n"})
	usb("usb2", map[string]string{"busnum": "2\n", "devnum": "1\n", "speed": "5000\n", "maxchild": "4\n",
		"serial": "0000:00:14.0\n"})
	usb("1-1", map[string]string{"busnum": "1\n", "devnum": "2\n", "speed": "480\n", "maxchild": "0\n",
		"product": "Webcam\n", "bMaxPower": "500mA\n", "bmAttributes": "80\n", "descriptors": video})
	usb("2-2", map[string]string{"busnum": "2\n", "devnum": "2\n", "speed": "5000\n", "maxchild": "0\n",
		"product": "Full-HD stick\n", "bMaxPower": "500mA\n", "bmAttributes": "80\n", "descriptors": video})
	return fs
}

// A rig begun on this very computer has its sockets and what is plugged into them: what was counted is taken from that
// first.
func TestStartHere(t *testing.T) {
	s, a := serveWith(t)
	status, body, _ := call(t, s, "POST", "/api/start",
		`{"sources":[{"kind":"webcam","count":1}],"out":{"height":1080,"fps":30,"minutes":60},"computer":"here"}`)
	if status != 200 { // a machine without USB says so, and what to do instead
		require.Equal(t, 422, status, body)
		require.Contains(t, body, "This computer could not be read: this system shows no USB devices")
	}
	a.sys = thisMachine()
	status, body, _ = call(t, s, "POST", "/api/start",
		`{"sources":[{"kind":"webcam","count":1},{"kind":"camera","count":1}],"out":{"height":1080,"fps":30,"minutes":60},"computer":"here"}`)
	require.Equal(t, 200, status)
	var b Board
	require.NoError(t, json.Unmarshal([]byte(body), &b))
	kinds := map[gear.Kind]int{}
	for i := range b.Rig.Items {
		kinds[b.Rig.Items[i].Gear.Kind]++
	}
	require.Equal(t, map[gear.Kind]int{gear.Computer: 1, gear.Webcam: 1, gear.Capture: 1, gear.Camera: 1}, kinds,
		"the webcam that is plugged in is the one that was counted")
	host := b.Rig.Host()
	require.Equal(t, "This computer", host.Label)
	require.Equal(t, gear.Laptop, host.Gear.Class)
	require.Len(t, host.Gear.Ports, 8)
	at := slices.IndexFunc(b.Rig.Items, func(it rig.Item) bool { return it.Gear.Kind == gear.Camera })
	lead := slices.IndexFunc(b.Rig.Leads, func(l rig.Lead) bool {
		return strings.HasPrefix(l.From, b.Rig.Items[at].ID+".")
	})
	require.GreaterOrEqual(t, lead, 0)
	to, _ := b.Rig.Port(b.Rig.Leads[lead].To)
	require.Equal(t, gear.Capture, to.Gear.Kind, "the camera goes into the stick that is plugged in")
	require.Equal(t, 2, b.Rig.Show.Angles)
}

// One camera on the stick of this very computer, to a usual destination: two facts decide at most.
func TestOneCameraHereLeavesTwoFacts(t *testing.T) {
	s, a := serveWith(t)
	m := thisMachine()
	for name := range m {
		if strings.HasPrefix(name, "bus/usb/devices/1-1/") {
			delete(m, name)
		}
	}
	a.sys = m
	for _, to := range []string{"Capped at 720 lines", "Open to 1080 lines"} {
		status, body, _ := call(t, s, "POST", "/api/start",
			`{"sources":[{"kind":"camera","count":1}],"out":{"height":1080,"fps":30,"minutes":60},"computer":"here","destination":"`+
				to+`"}`)
		require.Equal(t, 200, status, body[:min(len(body), 300)])
		var b Board
		require.NoError(t, json.Unmarshal([]byte(body), &b))
		require.LessOrEqual(t, len(b.Verdict.ToFindOut), 2, "%s: %v", to, b.Verdict.ToFindOut)
	}
}
