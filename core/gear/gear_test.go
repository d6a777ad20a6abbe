package gear

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestMoney(t *testing.T) {
	for _, c := range []struct {
		text string
		want Amount
		back string
	}{
		{`"150.00"`, 15000, "150.00"}, {`"150"`, 15000, "150.00"}, {`"0.5"`, 50, "0.50"},
		{`"999999999.99"`, 99999999999, "999999999.99"},
	} {
		var a Amount
		require.NoError(t, json.Unmarshal([]byte(c.text), &a))
		require.Equal(t, c.want, a)
		require.Equal(t, c.back, a.String())
	}
	for _, bad := range []string{`"-1"`, `"1.005"`, `"1,50"`, `"EUR 5"`, `""`, `"1e3"`} {
		var a Amount
		require.ErrorContains(t, json.Unmarshal([]byte(bad), &a), "at most two decimals", bad)
	}
	require.Equal(t, "12 EUR", Money{1200, "EUR"}.String())
	require.Equal(t, "12.50 EUR", Money{1250, "EUR"}.String())
}

func TestFamilies(t *testing.T) {
	for c, want := range map[Connector]Family{HDMIA: HDMIFamily, HDMID: HDMIFamily, BNC: SDIFamily, USBC: USBFamily,
		Internal: USBFamily, PCIe: PCIeFamily, LAN: LANFamily} {
		require.Equal(t, want, c.Family(), c)
	}
	require.True(t, HDMID.Small())
	require.False(t, HDMIA.Small())
}

// Everything generic is an estimate with bounds and says so.
func TestGenericsAreWhole(t *testing.T) {
	all := append(append(append([]Generic{Stick, SpareHub}, Sources...), Computers...), StrongerCapture...)
	keys := map[string]bool{}
	for _, g := range all {
		require.False(t, keys[g.Key], g.Key)
		keys[g.Key] = true
		require.NotEmpty(t, g.Gear.Ports, g.Key)
		for _, p := range g.Gear.Ports {
			require.GreaterOrEqual(t, g.Gear.Port(p.ID), 0)
		}
		if p := g.Gear.Power; p != nil && p.DrawW != nil {
			require.NoError(t, p.DrawW.Check())
			require.False(t, p.DrawW.Narrow(), g.Key)
		}
	}
	require.Equal(t, -1, Stick.Gear.Port("none"))
	require.True(t, Camera.Shoots())
	require.False(t, Capture.Shoots())
}
