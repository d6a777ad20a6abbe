package readers

import (
	"bufio"
	"bytes"
	"cmp"
	"io/fs"
	"math"
	"os"
	"path"
	"slices"
	"strconv"
	"strings"

	"eventether/core/fact"
	"eventether/core/lang"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/internal/system"
)

// Machine is what a computer says of itself besides its sockets.
type Machine struct {
	Processor string  `json:"processor" doc:"As its maker calls it; empty when it does not say"`
	Threads   int     `json:"threads"`
	MemoryGB  float64 `json:"memoryGB"`
	Drives    []Drive `json:"drives" doc:"File systems one can keep recordings on, the one of the home folder first"`
	// Power is mains or battery; empty of a machine without a battery, or one that does not say.
	Power      string   `json:"power,omitempty" enum:"mains,battery"`
	BatteryPct int      `json:"batteryPct,omitempty" doc:"How full its battery is"`
	Graphics   []string `json:"graphics,omitempty" doc:"Graphics processors, as the system or their driver calls them"`
	Cards      []Card   `json:"cards,omitempty" doc:"Cards that take pictures or sound, with the link they came up with"`
	// Sleep is whether it goes to sleep by itself; empty where the system's own files do not say.
	Sleep string `json:"sleep,omitempty" enum:"on,off"`
	// Clock is whether it is set by the network; empty where the system does not say.
	Clock   string  `json:"clock,omitempty" enum:"set,adrift"`
	ClockMs float64 `json:"clockMs,omitempty" doc:"By how much it may be off at most, by the kernel's own estimate, milliseconds"`
	// Says is the same in words, a line for each.
	Says []string `json:"says"`
}

// Card is one with its link: as it came up, and the most either end of it can.
type Card struct {
	Address string `json:"address" doc:"0000:03:00.0"`
	Name    string `json:"name" doc:"Its driver, or ids of maker and device"`
	Speed   string `json:"speed" doc:"Of a lane: 5.0 GT/s PCIe"`
	Lanes   int    `json:"lanes"`
	Most    string `json:"most"`
	MostOf  int    `json:"mostLanes"`
}

func (s *Card) says() string {
	line := lang.Text("card %s in slot %s: %s lanes at %s", s.Name, s.Address, strconv.Itoa(s.Lanes), s.Speed)
	if s.Lanes < s.MostOf || s.Speed != s.Most {
		line = lang.Text("%s, of %s at %s it could: look which slot it is in", line, strconv.Itoa(s.MostOf), s.Most)
	}
	return line
}

// Drive is one file system.
type Drive struct {
	Mount   string  `json:"mount"`
	System  string  `json:"system" doc:"As the kernel calls it: ext4"`
	SizeGB  float64 `json:"sizeGB"`
	FreeGB  float64 `json:"freeGB"`
	Rotates bool    `json:"rotates,omitempty" doc:"A disk that turns: it writes slower the fuller it is"`
	Leaves  bool    `json:"leaves,omitempty" doc:"It can be taken out"`
}

// ThisMachine reads the running system, with what stands in sys from there: a folder laid out like /sys.
func ThisMachine(sys fs.FS) *Machine {
	home, _ := os.UserHomeDir()
	m := ReadMachine(os.DirFS("/proc"), sys, os.DirFS("/etc"), home, system.Room)
	if set, off, ok := system.Clock(); ok {
		m.Clock, m.ClockMs = "adrift", 0
		if set {
			m.Clock, m.ClockMs = "set", float64(off.Microseconds())/1000
		}
		m.Says = m.lines()
	}
	return m
}

// Room tells how many bytes a mounted file system has, and how many of them are free.
type Room func(mount string) (size, free uint64, err error)

// ReadMachine reads folders laid out like /proc, /sys and /etc [documented: proc(5), sysfs-class-power, logind.conf(5), systemd-sleep.conf(5)]. What is not there is left out.
func ReadMachine(proc, sys, etc fs.FS, home string, room Room) *Machine {
	m := &Machine{Drives: []Drive{}}
	for line := range lines(proc, "cpuinfo") {
		key, value, _ := strings.Cut(line, ":")
		switch strings.TrimSpace(key) {
		case "processor":
			m.Threads++
		case "model name", "Model":
			if m.Processor == "" {
				m.Processor = strings.Join(strings.Fields(value), " ")
			}
		}
	}
	for line := range lines(proc, "meminfo") {
		if f := strings.Fields(line); len(f) >= 2 && f[0] == "MemTotal:" {
			kB, _ := strconv.ParseFloat(f[1], 64)
			m.MemoryGB = math.Round(kB*1024/1e8) / 10
		}
	}
	m.drives(proc, sys, home, room)
	m.supply(sys)
	m.cards(sys)
	m.sleeps(etc)
	m.Says = m.lines()
	return m
}

func (m *Machine) lines() []string {
	out := []string{}
	threads := lang.Text("%s threads", strconv.Itoa(m.Threads))
	switch {
	case m.Processor != "":
		out = append(out, lang.Text("%s, %s", m.Processor, threads))
	case m.Threads > 0:
		out = append(out, threads)
	}
	if m.MemoryGB > 0 {
		out = append(out, lang.Text("%s GB of memory", say.Number(m.MemoryGB)))
	}
	for i := range m.Drives {
		d := &m.Drives[i]
		line := lang.Text("%s of %s GB free on %s (%s)", say.Number(d.FreeGB), say.Number(d.SizeGB), d.Mount, d.System)
		if d.Leaves {
			line = lang.Text("%s, can be taken out", line)
		}
		if d.Rotates {
			line = lang.Text("%s, a disk that turns", line)
		}
		out = append(out, line)
	}
	switch m.Power {
	case "mains":
		out = append(out, lang.Text("on its charger, battery at %s %", strconv.Itoa(m.BatteryPct)))
	case "battery":
		out = append(out, lang.Text("on its battery, %s % left", strconv.Itoa(m.BatteryPct)))
	}
	return append(out, m.more()...)
}

// cards finds graphics, and cards that take pictures or sound, with their links [documented: sysfs-bus-pci; class codes of the
// PCI Code and ID Assignment: 03 displays, 04 multimedia].
func (m *Machine) cards(sys fs.FS) {
	entries, _ := fs.ReadDir(sys, "bus/pci/devices")
	for _, e := range entries {
		dir := "bus/pci/devices/" + e.Name()
		text := func(name string) string {
			b, _ := fs.ReadFile(sys, dir+"/"+name)
			return strings.TrimSpace(string(b))
		}
		name := text("vendor") + ":" + text("device")
		for line := range lines(sys, dir+"/uevent") {
			if driver, ok := strings.CutPrefix(line, "DRIVER="); ok {
				name = lang.Text("driver %s (%s)", driver, name)
			}
		}
		switch class := text("class"); {
		case strings.HasPrefix(class, "0x03"):
			m.Graphics = append(m.Graphics, name)
		case strings.HasPrefix(class, "0x0400"), strings.HasPrefix(class, "0x0480"):
			now, _ := strconv.Atoi(text("current_link_width"))
			most, _ := strconv.Atoi(text("max_link_width"))
			if now > 0 {
				m.Cards = append(m.Cards, Card{e.Name(), name, text("current_link_speed"), now, text("max_link_speed"), most})
			}
		}
	}
}

// sleeps reads what the system's own files say of sleeping when nobody touches it; desktops have settings of their own, which
// stand elsewhere.
func (m *Machine) sleeps(etc fs.FS) {
	if etc == nil {
		return
	}
	if to, err := fs.ReadLink(etc, "systemd/system/sleep.target"); err == nil && strings.HasSuffix(to, "dev/null") {
		m.Sleep = "off"
		return
	}
	for line := range lines(etc, "systemd/sleep.conf") {
		if strings.TrimSpace(line) == "AllowSuspend=no" {
			m.Sleep = "off"
			return
		}
	}
	for line := range lines(etc, "systemd/logind.conf") {
		if action, ok := strings.CutPrefix(strings.TrimSpace(line), "IdleAction="); ok && strings.Contains(action, "s") &&
			action != "ignore" && action != "lock" {
			m.Sleep = "on"
		}
	}
}

func lines(of fs.FS, name string) func(func(string) bool) {
	text, _ := fs.ReadFile(of, name)
	return func(yield func(string) bool) {
		for s := bufio.NewScanner(bytes.NewReader(text)); s.Scan(); {
			if !yield(s.Text()) {
				return
			}
		}
	}
}

// kept are file systems that keep files on a drive of this machine.
var kept = []string{"ext2", "ext3", "ext4", "xfs", "btrfs", "f2fs", "zfs", "vfat", "exfat", "ntfs", "ntfs3", "fuseblk", "hfsplus", "apfs"}

// mostDrives bounds the list: a machine with more is no place to record on by chance.
const mostDrives = 40

func (m *Machine) drives(proc, sys fs.FS, home string, room Room) {
	seen := map[string]bool{}
	at := ""
	for line := range lines(proc, "mounts") {
		f := strings.Fields(line)
		if len(f) < 3 || !slices.Contains(kept, f[2]) || seen[f[0]] || len(m.Drives) == mostDrives {
			continue
		}
		mount := unescaped(f[1])
		if strings.HasPrefix(mount, "/boot") || strings.HasPrefix(mount, "/snap") || strings.HasPrefix(mount, "/etc") {
			continue
		}
		size, free, err := room(mount)
		if err != nil || size == 0 {
			continue
		}
		seen[f[0]] = true
		d := Drive{Mount: mount, System: f[2], SizeGB: math.Round(float64(size)/1e8) / 10, FreeGB: math.Round(float64(free)/1e8) / 10}
		block := blockOf(sys, path.Base(f[0]))
		// A virtual disk says that it turns whatever it lies on.
		d.Rotates = flag(sys, block+"/queue/rotational") && !strings.HasPrefix(block, "block/vd")
		d.Leaves = flag(sys, block+"/removable")
		m.Drives = append(m.Drives, d)
		if (mount == "/" || home == mount || strings.HasPrefix(home, mount+"/")) && len(mount) > len(at) {
			at = mount
		}
	}
	slices.SortStableFunc(m.Drives, func(a, b Drive) int { // the one of the home folder first, then as they were mounted
		switch at {
		case a.Mount:
			return -1
		case b.Mount:
			return 1
		}
		return 0
	})
}

// blockOf is the folder of a drive, or of the drive a part of it is on.
func blockOf(sys fs.FS, name string) string {
	dir := "block/" + name
	if _, err := fs.Stat(sys, dir); err == nil {
		return dir
	}
	whole := strings.TrimRight(name, "0123456789")
	if w, ok := strings.CutSuffix(whole, "p"); ok { // nvme0n1p2, mmcblk0p1
		whole = w
	}
	return "block/" + whole
}

func flag(sys fs.FS, name string) bool {
	text, err := fs.ReadFile(sys, name)
	return err == nil && strings.TrimSpace(string(text)) == "1"
}

// unescaped gives the blanks and backslashes of a mount back: they stand as octal numbers.
func unescaped(s string) string {
	return strings.NewReplacer(`\040`, " ", `\011`, "\t", `\012`, "\n", `\134`, `\`).Replace(s)
}

// supply tells what the machine runs on.
func (m *Machine) supply(sys fs.FS) {
	entries, _ := fs.ReadDir(sys, "class/power_supply")
	text := func(e, name string) string {
		b, _ := fs.ReadFile(sys, "class/power_supply/"+e+"/"+name)
		return strings.TrimSpace(string(b))
	}
	mains, battery := "", false
	for _, e := range entries {
		switch text(e.Name(), "type") {
		case "Mains", "USB":
			if on := text(e.Name(), "online"); on == "1" || mains == "" {
				mains = on
			}
		case "Battery":
			if text(e.Name(), "scope") == "Device" { // of a mouse
				continue
			}
			battery = true
			if n, err := strconv.Atoi(text(e.Name(), "capacity")); err == nil && n >= 0 && n <= 100 {
				m.BatteryPct = n
			}
		}
	}
	switch {
	case battery && mains == "0":
		m.Power = "battery"
	case battery && mains == "1":
		m.Power = "mains"
	}
}

// Edits are what the machine says of itself as edits of the computer of a rig, and the same in words: where recordings
// go that name no drive, and what it runs on. at is the day of the reading.
func (m *Machine) Edits(host *rig.Item, at string) (edits []rig.Edit, says []string) {
	says = []string{}
	if host == nil {
		return nil, says
	}
	if len(m.Drives) > 0 {
		d := &m.Drives[0]
		if g := host.Gear.FreeGB; g == nil || g.Value != d.FreeGB {
			free := fact.Known(d.FreeGB, fact.Measured)
			free.At = at
			edits = append(edits, rig.Edit{Do: "fact", Path: "items/" + host.ID + "/freeGB", Fact: &free})
			says = append(says, lang.Text("%s GB free on %s, where recordings go that name no drive", say.Number(d.FreeGB),
				d.Mount))
		}
		system := map[string]string{"vfat": "fat32", "exfat": "exfat"}[d.System]
		if system = cmp.Or(system, "other"); host.Gear.FileSystem != system {
			edits = append(edits, rig.Edit{Do: "word", Path: "items/" + host.ID + "/fileSystem", Word: system})
			says = append(says, lang.Text("the file system there is %s", d.System))
		}
	}
	if m.Sleep != "" && (host.Set == nil || host.Set.Undisturbed["sleep"] != m.Sleep) {
		edits = append(edits, rig.Edit{Do: "word", Path: "items/" + host.ID + "/set/sleep", Word: m.Sleep})
		says = append(says, map[string]string{"on": lang.Text("it goes to sleep by itself"),
			"off": lang.Text("it does not go to sleep by itself")}[m.Sleep])
	}
	if m.Power != "" && (host.Set == nil || host.Set.RunsOn != m.Power) {
		edits = append(edits, rig.Edit{Do: "runs-on", Item: host.ID, Word: m.Power})
		says = append(says, map[string]string{"mains": lang.Text("it runs on its charger"),
			"battery": lang.Text("it runs on its battery")}[m.Power])
	}
	return edits, says
}
