package readers

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/usb"
	"eventether/internal/demo/rigs"
)

// anyTree draws what lsusb -t prints for some machine: buses, hubs in hubs, devices.
func anyTree(t *rapid.T) (text string, devices int) {
	var b strings.Builder
	for bus := 1; bus <= rapid.IntRange(1, 3).Draw(t, "buses"); bus++ {
		ports := rapid.IntRange(1, 8).Draw(t, "ports")
		speed := rapid.SampledFrom([]string{"480", "5000", "10000", "20000"}).Draw(t, "speed")
		fmt.Fprintf(&b, "/:  Bus %03d.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/%dp, %sM\n", bus, ports, speed)
		devices++
		dev := 2
		var under func(depth, ports int)
		under = func(depth, ports int) {
			for port := 1; port <= ports; port++ {
				what := rapid.SampledFrom([]string{"", "", "Video", "Audio", "Mass Storage", "Human Interface Device",
					"Hub"}).Draw(t, "what")
				if what == "" || what == "Hub" && depth > 3 {
					continue
				}
				driver := "x"
				if what == "Hub" {
					driver = "hub/2p"
				}
				fmt.Fprintf(&b, "%s|__ Port %03d: Dev %03d, If 0, Class=%s, Driver=%s, %sM\n",
					strings.Repeat("    ", depth), port, dev, what, driver, speed)
				dev++
				devices++
				if what == "Hub" {
					under(depth+1, 2)
				}
			}
		}
		under(1, ports)
	}
	return b.String(), devices
}

// Whatever machine is read, the plan leaves a sound rig: every plug of the rig is somewhere, nothing is put twice, the
// judge can say something, and reading the same again lays nothing on top.
func TestAnyReadingLeavesASoundRig(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text, devices := anyTree(t)
		u := read(t, text)
		require.Len(t, u.Devices, devices)
		require.Empty(t, u.Problems)
		r := rapid.SampledFrom([]*rig.Rig{rigs.Loft(), rigs.LoftEven(), rigs.Hall()}).Draw(t, "rig")
		plan, err := ToRig(r, u, rigs.Shelf())
		require.NoError(t, err)
		after, err := rig.Apply(r, plan.Edits...)
		require.NoError(t, err, text)
		require.Empty(t, rig.Check(after), text)
		for i := range r.Leads {
			require.NotNil(t, after.Lead(r.Leads[i].ID), "a lead is lost")
		}
		for i := range r.Items {
			require.NotNil(t, after.Item(r.Items[i].ID), "an item is lost")
		}
		hubs := func(r *rig.Rig) (n int) {
			for i := range r.Items {
				if strings.HasPrefix(r.Items[i].ID, "hub-") {
					n++
				}
			}
			return
		}
		inText := strings.Count(text, "Class=Hub")
		require.Equal(t, inText, hubs(after))
		sockets := 0
		for _, p := range after.Host().Gear.Ports {
			if strings.HasPrefix(p.ID, "bus-") {
				sockets++
				require.NotEmpty(t, p.Controller)
			}
		}
		want := 0
		for _, d := range u.Devices {
			if d.Parent == nil {
				want += *d.HubPorts
			}
		}
		require.Equal(t, want, sockets)
		v := judge.Rig(after)
		require.NotEmpty(t, v.State)
	})
}

// A device that came up at a speed came through a lead with data wires that carries it; one nobody told of says only
// that it is there.
func TestGradeOfALeadByItsDevice(t *testing.T) {
	for mbps, want := range map[float64]string{1.5: "usb-2", 12: "usb-2", 480: "usb-2", 5000: "usb-5g",
		10000: "usb-10g", 20000: "usb-20g", 40000: "usb-40g"} {
		require.Equal(t, want, gradeOf(&mbps), "%g", mbps)
	}
	require.Equal(t, "usb-unknown", gradeOf(nil))
}

// Devices are found by the name programs list them under; what is unknown is looked up on the shelf, else added by
// class.
func TestDevicesAreRecognised(t *testing.T) {
	tree := "/:  Bus 001.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/6p, 480M\n"
	for i, class := range []string{"Video", "Audio", "Mass Storage", "Human Interface Device", "Printer", "Video"} {
		tree += fmt.Sprintf("    |__ Port %03d: Dev %03d, If 0, Class=%s, Driver=x, 480M\n", i+1, i+2, class)
	}
	names := []string{"Found by its list name", "Sound thing", "Disk thing", "Keys", "Paper thing", "Shelf thing"}
	var details strings.Builder
	fmt.Fprintf(&details, "Bus 001 Device 001: ID 0000:0000 Root\n  iSerial 1 0000:00:14.0\n\n")
	for i, name := range names {
		fmt.Fprintf(&details, "Bus 001 Device %03d: ID 0000:0000 Nobody\n  iProduct 2 %s\n  MaxPower 500mA\n\n", i+2,
			name)
	}
	r := rigs.Loft()
	stick := r.Item("stick-face")
	require.NotNil(t, stick)
	stick.Gear.ListedAs = "found by its LIST name "
	shelf := []gear.Entry{{ID: "shelf-thing", Gear: gear.Gear{Kind: gear.Capture, Name: "shelf thing",
		Ports: []gear.Port{
			{ID: "in", Connector: gear.HDMIA, Direction: gear.In}, {ID: "usb", Connector: gear.USBC,
				Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.Gen1}}}}}}
	u := read(t, tree, details.String())
	plan, err := ToRig(r, u, shelf)
	require.NoError(t, err)
	after, err := rig.Apply(r, plan.Edits...)
	require.NoError(t, err)
	require.Empty(t, rig.Check(after))

	require.Equal(t, []string{stick.Label + " at 1-1"}, plan.Found)
	at := func(item string) string {
		i := slices.IndexFunc(after.Leads, func(l rig.Lead) bool {
			from, _ := rig.SplitRef(l.From)
			return from == item && strings.HasPrefix(l.To, "pc.")
		})
		require.GreaterOrEqual(t, i, 0, item)
		return after.Leads[i].To
	}
	require.Equal(t, "pc.bus-1-port-1", at("stick-face"))
	require.Equal(t, "pc.bus-1-port-2", at("sound-thing"))
	require.Equal(t, gear.AudioInterface, after.Item("sound-thing").Gear.Kind)
	require.Equal(t, gear.Drive, after.Item("disk-thing").Gear.Kind)
	// 500 mA at 5 V is what it asks for at most.
	require.Equal(t, fact.Fact{Value: 2.5, Low: 0.625, High: 2.5, From: fact.DataSheet},
		*after.Item("disk-thing").Gear.Power.DrawW)
	require.Equal(t, "shelf-thing", after.Item("shelf-thing").Shelf.ID)
	require.Equal(t, gear.Capture, after.Item("shelf-thing").Gear.Kind)
	left := strings.Join(plan.Left, "\n")
	require.Contains(t, left, "Keys at 1-4: keyboards and mice take next to nothing of a bus")
	require.Contains(t, left, "Paper thing at 1-5: neither picture, sound nor drive")
	require.Contains(t, left, "not in the reading; it stays where it is", "sticks the machine did not show")

	// Without the tree nobody knows where devices hang: nothing is moved, and all of them are named.
	alone, err := ToRig(r, read(t, details.String()), nil)
	require.NoError(t, err)
	require.Empty(t, alone.Found)
	require.Len(t, alone.Left, len(names))
	require.Contains(t, alone.Left[0], "the reading does not say where it hangs")
}
