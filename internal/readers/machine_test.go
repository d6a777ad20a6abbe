package readers

import (
	"fmt"
	"io/fs"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/require"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/rig"
)

// files are laid out like /proc and /sys [documented: proc(5), sysfs-class-power, sysfs-block].
func files(all map[string]string) fstest.MapFS {
	out := fstest.MapFS{}
	for name, text := range all {
		out[name] = &fstest.MapFile{Data: []byte(text)}
	}
	return out
}

var proc = files(map[string]string{
	"cpuinfo": "processor\t: 0\nmodel name\t: Quill  R7 at 3.2\n\nprocessor\t: 1\nmodel name\t: Quill  R7 at 3.2\n",
	"meminfo": "MemTotal:       16303404 kB\nMemFree: 1 kB\n",
	"mounts": "proc /proc proc rw 0 0\n/dev/nvme0n1p2 / ext4 rw 0 0\n/dev/nvme0n1p1 /boot/efi vfat rw 0 0\n" +
		"/dev/sdb1 /media/Show\\040disk exfat rw 0 0\n/dev/nvme0n1p2 /var/again ext4 rw 0 0\n/dev/sda1 /home xfs rw 0 0\n" +
		"/dev/vda1 /srv ext4 rw 0 0\nserver:/x /net nfs4 rw 0 0\n/dev/sdc1 /gone ext4 rw 0 0\nshort\n",
})

func room(mount string) (size, free uint64, err error) {
	switch mount {
	case "/":
		return 500e9, 120.44e9, nil
	case "/home":
		return 2000e9, 900e9, nil
	case "/srv":
		return 10e9, 5e9, nil
	case "/media/Show disk":
		return 64e9, 31e9, nil
	}
	return 0, 0, fmt.Errorf("%s is away", mount)
}

func TestReadMachine(t *testing.T) {
	sys := files(map[string]string{
		"block/nvme0n1/queue/rotational": "0\n", "block/sda/queue/rotational": "1\n", "block/sda/removable": "0\n",
		"block/sdb/removable": "1\n", "block/vda/queue/rotational": "1\n", "class/power_supply/AC/type": "Mains\n", "class/power_supply/AC/online": "0\n",
		"class/power_supply/BAT0/type": "Battery\n", "class/power_supply/BAT0/capacity": "41\n",
		"class/power_supply/mouse/type": "Battery\n", "class/power_supply/mouse/scope": "Device\n",
		"class/power_supply/mouse/capacity": "7\n",
	})
	m := ReadMachine(proc, sys, nil, "/home/ada", room)
	require.Equal(t, &Machine{Processor: "Quill R7 at 3.2", Threads: 2, MemoryGB: 16.7, Power: "battery", BatteryPct: 41,
		Drives: []Drive{{Mount: "/home", System: "xfs", SizeGB: 2000, FreeGB: 900, Rotates: true},
			{Mount: "/", System: "ext4", SizeGB: 500, FreeGB: 120.4},
			{Mount: "/media/Show disk", System: "exfat", SizeGB: 64, FreeGB: 31, Leaves: true},
			{Mount: "/srv", System: "ext4", SizeGB: 10, FreeGB: 5}},
		Says: []string{"Quill R7 at 3.2, 2 threads", "16.7 GB of memory",
			"900 of 2000 GB free on /home (xfs), a disk that turns", "120.4 of 500 GB free on / (ext4)",
			"31 of 64 GB free on /media/Show disk (exfat), can be taken out", "5 of 10 GB free on /srv (ext4)", "on its battery, 41 % left"}}, m)

	host := &rig.Item{ID: "pc", Gear: gear.Gear{Kind: gear.Computer}}
	edits, says := m.Edits(host, "2026-09-01")
	require.Len(t, edits, 3)
	require.Len(t, says, 3)
	after, err := rig.Apply(&rig.Rig{Items: []rig.Item{*host}}, edits...)
	require.NoError(t, err)
	pc := after.Host()
	require.Equal(t, 900.0, pc.Gear.FreeGB.Value)
	require.Equal(t, fact.Measured, pc.Gear.FreeGB.From)
	require.Equal(t, "2026-09-01", pc.Gear.FreeGB.At)
	require.Equal(t, "other", pc.Gear.FileSystem)
	require.Equal(t, "battery", pc.Set.RunsOn)
	edits, says = m.Edits(pc, "2026-09-02")
	require.Empty(t, edits, "what the rig has already is not set again")
	require.Empty(t, says)

	edits, says = m.Edits(nil, "2026-09-01")
	require.Empty(t, edits)
	require.Empty(t, says)
}

// What a system does not say is left out: nothing is made up of it.
func TestMachineThatSaysLittle(t *testing.T) {
	m := ReadMachine(fstest.MapFS{}, fstest.MapFS{}, fstest.MapFS{}, "", room)
	require.Equal(t, &Machine{Drives: []Drive{}, Says: []string{}}, m)
	edits, says := m.Edits(&rig.Item{ID: "pc"}, "2026-09-01")
	require.Empty(t, edits)
	require.Empty(t, says)

	for name, c := range map[string]struct {
		supplies map[string]string
		want     string
	}{
		"a desktop":                     {map[string]string{"AC/type": "Mains", "AC/online": "1"}, ""},
		"a battery that says no supply": {map[string]string{"B/type": "Battery"}, ""},
		"charged over USB": {map[string]string{"B/type": "Battery", "U1/type": "USB", "U1/online": "0",
			"U2/type": "USB", "U2/online": "1"}, "mains"},
	} {
		sys := map[string]string{}
		for file, text := range c.supplies {
			sys["class/power_supply/"+file] = text
		}
		require.Equal(t, c.want, ReadMachine(fstest.MapFS{}, files(sys), nil, "", room).Power, name)
	}

	many := ""
	for i := range 100 {
		many += fmt.Sprintf("/dev/sd%d / ext4 rw 0 0\n", i)
	}
	require.Len(t, ReadMachine(files(map[string]string{"mounts": many}), fstest.MapFS{}, nil, "", room).Drives, mostDrives)
}

// Cards and graphics with their links, sleeping by the system's own files: laid out as sysfs-bus-pci and systemd-sleep.conf(5)
// describe them.
func TestCardsAndSleep(t *testing.T) {
	sys := files(map[string]string{
		"bus/pci/devices/0000:03:00.0/class": "0x040000\n", "bus/pci/devices/0000:03:00.0/vendor": "0x1234\n",
		"bus/pci/devices/0000:03:00.0/device": "0x0042\n", "bus/pci/devices/0000:03:00.0/uevent": "DRIVER=fourway\nPCI_CLASS=40000\n",
		"bus/pci/devices/0000:03:00.0/current_link_speed": "2.5 GT/s PCIe\n", "bus/pci/devices/0000:03:00.0/current_link_width": "1\n",
		"bus/pci/devices/0000:03:00.0/max_link_speed": "5.0 GT/s PCIe\n", "bus/pci/devices/0000:03:00.0/max_link_width": "4\n",
		"bus/pci/devices/0000:00:02.0/class": "0x030000\n", "bus/pci/devices/0000:00:02.0/vendor": "0x1234\n",
		"bus/pci/devices/0000:00:02.0/device": "0x0001\n", "bus/pci/devices/0000:00:1f.3/class": "0x040300\n"})
	m := ReadMachine(fstest.MapFS{}, sys, files(map[string]string{"systemd/logind.conf": "[Login]\n#IdleAction=suspend\n"}), "", room)
	require.Equal(t, []string{"0x1234:0x0001"}, m.Graphics)
	require.Equal(t, []Card{{"0000:03:00.0", "driver fourway (0x1234:0x0042)", "2.5 GT/s PCIe", 1, "5.0 GT/s PCIe", 4}}, m.Cards)
	require.Contains(t, strings.Join(m.Says, "\n"), "1 lanes at 2.5 GT/s PCIe, of 4 at 5.0 GT/s PCIe it could: look which slot it is in")
	require.Empty(t, m.Sleep, "a line that is commented out says nothing")
	for want, etc := range map[string]fstest.MapFS{
		"on":  files(map[string]string{"systemd/logind.conf": "IdleAction=suspend\n"}),
		"off": {"systemd/system/sleep.target": &fstest.MapFile{Mode: fs.ModeSymlink, Data: []byte("/dev/null")}},
		"":    files(map[string]string{"systemd/logind.conf": "IdleAction=lock\n"}),
	} {
		m := ReadMachine(fstest.MapFS{}, fstest.MapFS{}, etc, "", room)
		require.Equal(t, want, m.Sleep)
		host := &rig.Item{ID: "pc", Gear: gear.Gear{Kind: gear.Computer}}
		edits, _ := m.Edits(host, "2026-09-01")
		require.Equal(t, want != "", len(edits) == 1)
		if want != "" {
			after, err := rig.Apply(&rig.Rig{Items: []rig.Item{*host}}, edits...)
			require.NoError(t, err)
			require.Equal(t, want, after.Host().Set.Undisturbed["sleep"])
		}
	}
	require.Equal(t, "off", ReadMachine(fstest.MapFS{}, fstest.MapFS{},
		files(map[string]string{"systemd/sleep.conf": "[Sleep]\nAllowSuspend=no\n"}), "", room).Sleep)
}
