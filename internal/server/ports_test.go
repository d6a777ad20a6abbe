package server

import (
	"encoding/json"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
	"eventether/internal/readers"
)

func TestPlacing(t *testing.T) {
	s := serve(t)
	status, body, _ := call(t, s, "POST", "/api/place", `{"rig":`+loft(t)+`}`)
	require.Equal(t, 200, status, body)
	var p Placed
	require.NoError(t, json.Unmarshal([]byte(body), &p))
	require.True(t, p.Suggestion.Possible && p.Suggestion.Proven)
	require.NotEmpty(t, p.Suggestion.Moves)
	require.Len(t, p.After, len(p.Now), "no socket comes or goes")
	stick := p.Suggestion.Moves[0].Item
	at := func(rows []view.Row) int {
		return slices.IndexFunc(rows, func(r view.Row) bool { return r.Item == stick })
	}
	require.NotEqual(t, p.Now[at(p.Now)].Ref, p.After[at(p.After)].Ref)
	require.NotContains(t, body, "null,")

	status, body, _ = call(t, s, "POST", "/api/place", `{"rig":{"format":"eventether-rig/1"}}`)
	require.Equal(t, 422, status, body)
	require.Contains(t, body, "items is missing")
}

func TestReadingUSB(t *testing.T) {
	s := serve(t)
	tree := asJSON(t,
		"/:  Bus 001.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/4p, 480M\n    |__ Port 002: Dev 002, If 0, Class=Video, Driver=uvcvideo, 480M\n")
	status, body, _ := call(t, s, "POST", "/api/usb", `{"rig":`+loft(t)+`,"texts":[{"name":"tree.txt","text":`+tree+
		`}]}`)
	require.Equal(t, 200, status, body)
	var u USBRead
	require.NoError(t, json.Unmarshal([]byte(body), &u))
	require.Len(t, u.USB.Devices, 2)
	require.NotEmpty(t, u.Plan.Added)
	// What it would make of the rig can be tried as it is.
	status, body, _ = call(t, s, "POST", "/api/try", `{"rig":`+loft(t)+`,"edits":`+asJSON(t, u.Plan.Edits)+`}`)
	require.Equal(t, 200, status, body)

	status, body, _ = call(t, s, "POST", "/api/usb", `{"rig":`+loft(t)+`,"texts":[{"name":"tree.txt","text":"  "}]}`)
	require.Equal(t, 422, status)
	require.Contains(t, body, "tree.txt: the listing is empty")
	status, body, _ = call(t, s, "POST", "/api/usb/here", `{"rig":`+loft(t)+`}`)
	if status != 200 { // a machine without USB says so
		require.Equal(t, 422, status, body)
		require.Contains(t, body, "This computer could not be read: this system shows no USB devices")
	}
}

// What this very computer says of itself lies beside the plan and is taken with it.
func TestReadingThisComputer(t *testing.T) {
	s, a := serveWith(t)
	a.sys = thisMachine()
	a.own = func() *readers.Machine {
		return &readers.Machine{Threads: 8, Power: "battery", Says: []string{"8 threads"},
			Drives: []readers.Drive{{Mount: "/home", System: "ext4", SizeGB: 500, FreeGB: 12.5}}}
	}
	status, body, _ := call(t, s, "POST", "/api/usb/here", `{"rig":`+loft(t)+`}`)
	require.Equal(t, 200, status, body)
	var u USBRead
	require.NoError(t, json.Unmarshal([]byte(body), &u))
	require.Equal(t, []string{"8 threads"}, u.Here.Machine.Says)
	require.Contains(t, u.Plan.Tells, "12.5 GB free on /home, where recordings go that name no drive")
	status, body, _ = call(t, s, "POST", "/api/try", `{"rig":`+loft(t)+`,"edits":`+asJSON(t, u.Plan.Edits)+`}`)
	require.Equal(t, 200, status, body)
	var b Board
	require.NoError(t, json.Unmarshal([]byte(body), &b))
	require.Equal(t, 12.5, b.Rig.Host().Gear.FreeGB.Value)
	require.Equal(t, "battery", b.Rig.Host().Set.RunsOn)
}

func TestPower(t *testing.T) {
	s := serve(t)
	status, body, _ := call(t, s, "POST", "/api/power", `{"rig":`+asJSON(t, rigs.Hall())+`}`)
	require.Equal(t, 200, status, body)
	var p view.PowerPlan
	require.NoError(t, json.Unmarshal([]byte(body), &p))
	require.NotEmpty(t, p.Batteries)
	require.NotEmpty(t, p.Supplies)
	// What is proposed is marked so, and is not what the rig is: of the loft's phone nobody has said what it runs on.
	var open view.PowerPlan
	status, body, _ = call(t, s, "POST", "/api/power", `{"rig":`+loft(t)+`}`)
	require.Equal(t, 200, status, body)
	require.NoError(t, json.Unmarshal([]byte(body), &open))
	phone := slices.IndexFunc(open.Batteries, func(b view.Battery) bool { return b.Label == "Roving phone" })
	require.GreaterOrEqual(t, phone, 0)
	as := slices.IndexFunc(open.Batteries[phone].Ways, func(w view.PowerWay) bool { return w.As })
	require.GreaterOrEqual(t, as, 0, "%+v", open.Batteries[phone].Ways)
	require.Equal(t, "mains", open.Batteries[phone].Ways[as].Key)
	require.False(t, slices.ContainsFunc(open.Batteries[phone].Ways, func(w view.PowerWay) bool { return w.Now }))
	require.Equal(t, p.Total, p.Phases[len(p.Phases)-1].To)
	dead := slices.IndexFunc(p.Batteries, func(b view.Battery) bool { return b.State == limit.Snapped })
	require.GreaterOrEqual(t, dead, 0, "a long show on a small battery")
	require.Less(t, p.Batteries[dead].High, p.Total)
	ways := p.Batteries[dead].Ways
	require.Equal(t, 1, len(slices.DeleteFunc(slices.Clone(ways), func(w view.PowerWay) bool { return !w.Now })),
		"one way is the present one")
	require.True(t, slices.ContainsFunc(ways, func(w view.PowerWay) bool {
		return w.State == limit.Slack && len(w.Edits) > 0
	}), "and one holds")
	for _, w := range ways {
		status, body, _ = call(t, s, "POST", "/api/try", `{"rig":`+asJSON(t, rigs.Hall())+`,"edits":`+asJSON(t,
			w.Edits)+`}`)
		require.Equal(t, 200, status, w.Name+body)
	}
}

// A report of another system, or our own reading of another computer, becomes a rig's computer in one action.
func TestReadingAReport(t *testing.T) {
	s, doc := serve(t), loft(t)
	report, err := os.ReadFile("../readers/testdata/reports/profile.json")
	require.NoError(t, err)
	text, err := json.Marshal(map[string]any{"rig": json.RawMessage(doc), "texts": []USBText{{"report.json", string(report)}}})
	require.NoError(t, err)
	status, body, _ := call(t, s, "POST", "/api/usb", string(text))
	require.Equal(t, 200, status, body)
	var read USBRead
	require.NoError(t, json.Unmarshal([]byte(body), &read))
	require.Contains(t, strings.Join(read.Here.Machine.Says, "; "), "120.5 of 494.4 GB free on / (apfs)")
	require.Contains(t, strings.Join(read.Plan.Tells, "; "), "it does not go to sleep by itself")
	after, err := rig.Apply(rigs.Loft(), read.Plan.Edits...)
	require.NoError(t, err)
	require.Equal(t, 120.5, after.Host().Gear.FreeGB.Value)
	// A list of names alone places nothing, and says so.
	text, err = json.Marshal(map[string]any{"rig": json.RawMessage(doc),
		"texts": []USBText{{"list", "[dshow @ 0001] \"Full-HD stick\" (video)\n"}}})
	require.NoError(t, err)
	status, body, _ = call(t, s, "POST", "/api/usb", string(text))
	require.Equal(t, 200, status, body)
	require.Contains(t, body, "Full-HD stick: it is there; where it is plugged in the list does not tell")
}
