package readers

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"eventether/core/lang"
	"eventether/core/say"
)

// Reports of other systems. None of them could be printed here: their forms are from memory, read tolerantly, and every part
// that was not read is named. What they do not tell (which sockets share a controller, what a device reserves) stays untold.

// isReport tells what a text is by its first characters: JSON, or a listing of devices by the encoder tool.
func isReport(data []byte) bool {
	b := bytes.TrimPrefix(bytes.TrimSpace(data), []byte("\xef\xbb\xbf"))
	return len(b) > 0 && (b[0] == '{' || b[0] == '[') || listedBy.Match(data)
}

// mostGB is the largest drive there is, as far as a report is believed.
const mostGB = 1_000_000

// mostReport is the longest report that is read, in bytes.
const mostReport = 16 << 20

// ReadReports reads what a computer says of itself: our own reading of another machine (eventether here --json), the JSON of
// a system's own report tool, listings of its USB, or of devices by ffmpeg; in any order, together. An error means that
// nothing at all could be read.
func ReadReports(texts []Text) (*Here, error) {
	var listings []Text
	h := &Here{USB: &USB{Controllers: []USBController{}, Devices: []USBDevice{}, Problems: []Problem{}}, Displays: []Display{},
		Captures: []Capture{}}
	read := 0
	for _, t := range texts {
		if !isReport(t.Data) {
			listings = append(listings, t)
			continue
		}
		if len(t.Data) > mostReport {
			return nil, fmt.Errorf("%s: %d MB: want 16 MB at most", t.Name, len(t.Data)>>20)
		}
		data := bytes.TrimPrefix(bytes.TrimSpace(t.Data), []byte("\xef\xbb\xbf"))
		if listedBy.Match(data) {
			read += h.listed(t.Name, string(data))
			continue
		}
		var parts map[string]json.RawMessage
		if err := json.Unmarshal(data, &parts); err != nil {
			return nil, fmt.Errorf("%s: this is no whole JSON: %w", t.Name, err)
		}
		n, err := h.report(t.Name, data, parts)
		if err != nil {
			return nil, err
		}
		read += n
	}
	if len(listings) > 0 {
		u, err := ReadUSB(listings)
		if err != nil && read == 0 {
			return nil, err
		}
		if u != nil {
			h.USB.Controllers = append(h.USB.Controllers, u.Controllers...)
			h.USB.Devices, h.USB.Problems = append(h.USB.Devices, u.Devices...), append(h.USB.Problems, u.Problems...)
			read++
		}
	}
	if read == 0 {
		return nil, fmt.Errorf("nothing in it is known: want what eventether here --json, a system's own report, lsusb or ffmpeg's listing of devices prints")
	}
	h.Displays = slices.DeleteFunc(h.Displays, func(d Display) bool { return d.Reading == nil })
	if m := h.Machine; m != nil {
		m.Drives = slices.DeleteFunc(m.Drives, func(d Drive) bool {
			bad := !(d.FreeGB >= 0 && d.FreeGB <= mostGB && d.SizeGB <= mostGB)
			if bad {
				h.problem(d.Mount, "%v of %v GB free: want 0 to %d; it is left out", d.FreeGB, d.SizeGB, mostGB)
			}
			return bad
		})
		if m.Power != "mains" && m.Power != "battery" {
			m.Power = ""
		}
		if m.Sleep != "on" && m.Sleep != "off" {
			m.Sleep = ""
		}
		m.Says = m.lines()
	}
	h.USB.Incomplete = len(h.USB.Problems) > 0
	return h, nil
}

func (h *Here) problem(file, format string, args ...any) {
	h.USB.Problems = append(h.USB.Problems, Problem{File: file, Text: fmt.Sprintf(format, args...)})
}

// report reads one JSON report, and says how many of its parts it knew.
func (h *Here) report(name string, whole []byte, parts map[string]json.RawMessage) (int, error) {
	if _, ours := parts["usb"]; ours && parts["captures"] != nil {
		var read Here
		if err := json.Unmarshal(whole, &read); err != nil {
			return 0, fmt.Errorf("%s: a reading that does not hold together: %w", name, err)
		}
		if read.USB == nil {
			read.USB = h.USB
		}
		*h = read
		for i := range h.USB.Devices {
			d := &h.USB.Devices[i]
			d.Classes, d.IsoAlt = append([]int{}, d.Classes...), append([]AltSpec{}, d.IsoAlt...)
		}
		return 1, nil
	}
	known := 0
	for _, part := range slices.Sorted(maps.Keys(parts)) {
		of, ok := reportParts[part]
		if !ok {
			h.problem(name, "%s was not read: this part of the report is not known", cutName(part))
			continue
		}
		if err := of(h, parts[part]); err != nil {
			h.problem(name, "%s was not read: %v", cutName(part), err)
			continue
		}
		known++
	}
	return known, nil
}

func cutName(s string) string {
	if r := []rune(s); len(r) > 60 {
		return string(r[:60]) + "…"
	}
	return s
}

// machine is what the report says of the computer itself, made when there is something to say.
func (h *Here) machine() *Machine {
	if h.Machine == nil {
		h.Machine = &Machine{Drives: []Drive{}}
	}
	return h.Machine
}

// reportParts are the parts of reports that are read, by the names their tools give them [memory]. Those that begin with SP
// are data types of one system's profile; the others are what the commands print that ReportCommands names for the other.
var reportParts = map[string]func(*Here, json.RawMessage) error{
	"SPUSBDataType":      (*Here).profileUSB,
	"SPUSBHostDataType":  (*Here).profileUSB,
	"SPHardwareDataType": (*Here).profileHardware,
	"SPStorageDataType":  (*Here).profileStorage,
	"SPPowerDataType":    (*Here).profilePower,
	"SPDisplaysDataType": (*Here).profileGraphics,
	"SPCameraDataType":   (*Here).profileCameras,
	"devices":            (*Here).pnpDevices,
	"processor":          (*Here).pnpProcessor,
	"system":             (*Here).pnpSystem,
	"drives":             (*Here).pnpDrives,
	"battery":            (*Here).pnpBattery,
	"graphics":           (*Here).pnpGraphics,
	"sleep":              (*Here).pnpSleep,
}

// ReportCommands are what to type on another system for a report that is read here, by the system as Go calls it [memory].
var ReportCommands = map[string][]string{
	"darwin": {"system_profiler", "-json", "SPUSBDataType", "SPUSBHostDataType", "SPHardwareDataType", "SPStorageDataType",
		"SPPowerDataType", "SPDisplaysDataType", "SPCameraDataType"},
	"windows": {"powershell", "-NoProfile", "-Command", `[ordered]@{` +
		`devices=@(Get-PnpDevice -PresentOnly | Where-Object { $_.InstanceId -like 'USB\*' } | ForEach-Object { ` +
		`[ordered]@{id=$_.InstanceId;name=$_.FriendlyName;class=$_.Class;` +
		`parent=(Get-PnpDeviceProperty -InputObject $_ DEVPKEY_Device_Parent).Data;` +
		`paths=@((Get-PnpDeviceProperty -InputObject $_ DEVPKEY_Device_LocationPaths).Data)} });` +
		`processor=@(Get-CimInstance Win32_Processor | Select-Object Name,NumberOfLogicalProcessors);` +
		`system=@(Get-CimInstance Win32_ComputerSystem | Select-Object TotalPhysicalMemory);` +
		`drives=@(Get-CimInstance Win32_LogicalDisk | Select-Object DeviceID,FileSystem,Size,FreeSpace,DriveType);` +
		`battery=@(Get-CimInstance Win32_Battery | Select-Object EstimatedChargeRemaining,BatteryStatus);` +
		`graphics=@(Get-CimInstance Win32_VideoController | Select-Object Name)} | ConvertTo-Json -Depth 5`},
}

// loose is any JSON object, whose values are read as what they look like.
type loose map[string]any

func looseList(raw json.RawMessage) ([]loose, error) {
	var many []loose
	if err := json.Unmarshal(raw, &many); err == nil {
		return many, nil
	}
	var one loose // some tools print a list of one as the one
	if err := json.Unmarshal(raw, &one); err != nil {
		return nil, fmt.Errorf("neither a list nor an object")
	}
	return []loose{one}, nil
}

func (l loose) text(keys ...string) string {
	for _, k := range keys {
		switch v := l[k].(type) {
		case string:
			if v = strings.TrimSpace(v); v != "" {
				return v
			}
		case float64:
			return strconv.FormatFloat(v, 'f', -1, 64)
		}
	}
	return ""
}

var firstNumber = regexp.MustCompile(`-?\d+(?:\.\d+)?`)

// number is the first in a value, 0 of none.
func (l loose) number(keys ...string) float64 {
	v, _ := strconv.ParseFloat(firstNumber.FindString(strings.ReplaceAll(l.text(keys...), ",", "")), 64)
	return v
}

func (l loose) items(key string) (out []loose) {
	list, _ := l[key].([]any)
	for _, x := range list {
		if m, ok := x.(map[string]any); ok {
			out = append(out, m)
		}
	}
	return out
}

// speedsByWord are how one system's profile calls the speed a device came up at [memory].
var speedsByWord = []struct {
	word string
	mbps float64
}{{"low_speed", 1.5}, {"full_speed", 12}, {"high_speed", 480}, {"super_speed_plus_by2", 20000}, {"super_speed_plus", 10000},
	{"super_speed", 5000}, {"20 Gb", 20000}, {"10 Gb", 10000}, {"5 Gb", 5000}, {"480 Mb", 480}, {"12 Mb", 12}, {"1.5 Mb", 1.5}}

func speedByWord(s string) *float64 {
	for _, w := range speedsByWord {
		if strings.Contains(s, w.word) {
			v := w.mbps
			return &v
		}
	}
	return nil
}

// mostDepth bounds a report whose devices hold each other.
const mostDepth = 8

// profileUSB reads a profile's buses: each is a controller with what hangs on it, in it.
func (h *Here) profileUSB(raw json.RawMessage) error {
	buses, err := looseList(raw)
	if err != nil {
		return err
	}
	for _, b := range buses {
		bus := 1
		for i := range h.USB.Devices {
			bus = max(bus, h.USB.Devices[i].Bus+1)
		}
		name := b.text("_name", "host_controller")
		h.USB.Controllers = append(h.USB.Controllers, USBController{ID: fmt.Sprintf("controller-%d", bus), Buses: []int{bus}})
		root := fmt.Sprintf("usb%d", bus)
		hub, ports := true, 0
		at := len(h.USB.Devices)
		h.USB.Devices = append(h.USB.Devices, USBDevice{Path: &root, Bus: bus, Dev: 1, Name: &name, Hub: &hub, HubPorts: &ports,
			Classes: []int{}, IsoAlt: []AltSpec{}})
		dev := 1
		fastest := 480.0
		h.profileDevices(b.items("_items"), root, strconv.Itoa(bus)+"-", bus, &dev, &ports, &fastest, 0)
		h.USB.Devices[at].SpeedMbps = &fastest
	}
	return nil
}

func (h *Here) profileDevices(items []loose, parent, prefix string, bus int, dev, ports *int, fastest *float64, depth int) {
	if depth > mostDepth {
		h.problem(parent, "more than %d hubs in a row: what is behind them was not read", mostDepth)
		return
	}
	for i, x := range items {
		*dev++
		port := i + 1
		if hop := hopOf(x.text("location_id", "USBDeviceKeyLocationID"), depth); hop > 0 {
			port = hop
		}
		*ports = max(*ports, port)
		path := prefix + strconv.Itoa(port)
		name := x.text("_name")
		d := USBDevice{Path: &path, Bus: bus, Dev: *dev, Parent: &parent, Port: &port, Name: &name,
			SpeedMbps: speedByWord(x.text("device_speed", "USBDeviceKeyLinkSpeed")), Classes: []int{}, IsoAlt: []AltSpec{}}
		if used := int(x.number("bus_power_used")); used > 0 {
			d.MaxPowerMA = &used
		}
		within := x.items("_items")
		hub := len(within) > 0 || strings.Contains(strings.ToLower(name), "hub")
		d.Hub = &hub
		if d.SpeedMbps != nil {
			*fastest = max(*fastest, *d.SpeedMbps)
		}
		at := len(h.USB.Devices)
		h.USB.Devices = append(h.USB.Devices, d)
		if hub {
			n := 4 // where it does not say: as many as most have [practice]
			h.profileDevices(within, path, path+".", bus, dev, &n, fastest, depth+1)
			h.USB.Devices[at].HubPorts = &n
		}
	}
}

// hopOf is the port of a hop in a location like 0x14320000: four bits for each, after the eight of the bus; 0 where it says none.
func hopOf(location string, depth int) int {
	hex, _, _ := strings.Cut(strings.TrimPrefix(location, "0x"), " ")
	if len(hex) != 8 || 2+depth >= len(hex) {
		return 0
	}
	n, err := strconv.ParseInt(hex[2+depth:3+depth], 16, 32)
	if err != nil {
		return 0
	}
	return int(n)
}

func (h *Here) profileHardware(raw json.RawMessage) error {
	list, err := looseList(raw)
	if err != nil || len(list) == 0 {
		return err
	}
	m := h.machine()
	m.Processor = list[0].text("chip_type", "cpu_type")
	m.Threads = int(list[0].number("number_processors"))
	m.MemoryGB = list[0].number("physical_memory")
	h.Laptop = strings.Contains(strings.ToLower(list[0].text("machine_name", "machine_model")), "book")
	return nil
}

func (h *Here) profileStorage(raw json.RawMessage) error {
	list, err := looseList(raw)
	if err != nil {
		return err
	}
	m := h.machine()
	for _, x := range list[:min(len(list), mostDrives)] {
		d := Drive{Mount: x.text("mount_point", "_name"), System: strings.ToLower(x.text("file_system")),
			SizeGB: math.Round(x.number("size_in_bytes")/1e8) / 10, FreeGB: math.Round(x.number("free_space_in_bytes")/1e8) / 10}
		drive, _ := x["physical_drive"].(map[string]any)
		d.Leaves = loose(drive).text("is_internal_disk") == "no"
		d.Rotates = strings.Contains(loose(drive).text("medium_type"), "rotational")
		if d.Mount != "" && d.SizeGB > 0 {
			m.Drives = append(m.Drives, d)
		}
	}
	return nil
}

func (h *Here) profilePower(raw json.RawMessage) error {
	list, err := looseList(raw)
	if err != nil {
		return err
	}
	m := h.machine()
	charger, battery := "", false
	for _, x := range list {
		if c, ok := x["sppower_battery_charge_info"].(map[string]any); ok {
			battery = true
			m.BatteryPct = int(loose(c).number("sppower_battery_state_of_charge"))
		}
		if v := x.text("sppower_battery_charger_connected"); v != "" {
			charger = v
		}
		if ac, ok := x["AC Power"].(map[string]any); ok {
			if v := loose(ac).text("System Sleep Timer"); v != "" {
				m.Sleep = map[bool]string{true: "off", false: "on"}[v == "0"]
			}
		}
	}
	if battery {
		m.Power = map[bool]string{true: "mains", false: "battery"}[strings.EqualFold(charger, "TRUE") || charger == "yes"]
	}
	return nil
}

func (h *Here) profileGraphics(raw json.RawMessage) error {
	list, err := looseList(raw)
	for _, x := range list {
		if name := x.text("sppci_model", "_name"); name != "" {
			h.machine().Graphics = append(h.machine().Graphics, name)
		}
	}
	return err
}

func (h *Here) profileCameras(raw json.RawMessage) error {
	list, err := looseList(raw)
	for _, x := range list {
		if name := x.text("_name"); name != "" {
			h.Captures = append(h.Captures, Capture{Name: name})
		}
	}
	return err
}

// pnpDevices reads devices whose place is told by the path of sockets to them: PCIROOT(0)#PCI(1400)#USBROOT(0)#USB(4)#USB(2).
func (h *Here) pnpDevices(raw json.RawMessage) error {
	list, err := looseList(raw)
	if err != nil {
		return err
	}
	buses := map[string]int{}
	type placed struct {
		bus   int
		ports []string
		x     loose
	}
	var all []placed
	classes := map[string]int{"camera": classVideo, "image": classVideo, "media": classAudio, "audioendpoint": classAudio,
		"hidclass": classHID, "diskdrive": classStorage}
	untold := 0
	for _, x := range list {
		if !strings.HasPrefix(x.text("id"), `USB\`) {
			continue
		}
		path := ""
		for _, p := range x.strings("paths") {
			if strings.Contains(p, "#USBROOT") {
				path = p
			}
		}
		if path == "" {
			untold++
			continue
		}
		at := strings.Index(path, "#USBROOT")
		ctl := path[:at]
		if _, ok := buses[ctl]; !ok {
			buses[ctl] = len(buses) + 1
		}
		p := placed{bus: buses[ctl], x: x}
		for _, m := range socketInPath.FindAllStringSubmatch(path[at:], -1) {
			p.ports = append(p.ports, m[1])
		}
		all = append(all, p)
	}
	if untold > 0 {
		h.problem("devices", "%s: the report does not say where they hang", say.Count(untold, "USB device", "USB devices"))
	}
	for _, bus := range buses {
		h.USB.Controllers = append(h.USB.Controllers, USBController{ID: fmt.Sprintf("controller-%d", bus), Buses: []int{bus}})
	}
	slices.SortFunc(h.USB.Controllers, func(a, b USBController) int { return a.Buses[0] - b.Buses[0] })
	before := len(h.USB.Devices)
	most := map[string]int{} // ports of each hub, by its path
	seen := map[string]int{} // interfaces of one device come one by one
	slices.SortStableFunc(all, func(a, b placed) int { return len(a.ports) - len(b.ports) })
	for _, p := range all {
		path, parent := fmt.Sprintf("usb%d", p.bus), ""
		d := USBDevice{Bus: p.bus, Dev: len(h.USB.Devices) + 1, Classes: []int{}, IsoAlt: []AltSpec{}}
		if n := len(p.ports); n > 0 {
			parent = path
			if n > 1 {
				parent = fmt.Sprintf("%d-%s", p.bus, strings.Join(p.ports[:n-1], "."))
			}
			port, _ := strconv.Atoi(p.ports[n-1])
			path = fmt.Sprintf("%d-%s", p.bus, strings.Join(p.ports, "."))
			d.Parent, d.Port = &parent, &port
			most[parent] = max(most[parent], port)
		}
		class := classes[strings.ToLower(p.x.text("class"))]
		if at, ok := seen[path]; ok {
			if class != 0 && !slices.Contains(h.USB.Devices[at].Classes, class) {
				h.USB.Devices[at].Classes = append(h.USB.Devices[at].Classes, class)
			}
			continue
		}
		name := p.x.text("name")
		d.Path, d.Name = &path, &name
		if class != 0 {
			d.Classes = append(d.Classes, class)
		}
		seen[path] = len(h.USB.Devices)
		h.USB.Devices = append(h.USB.Devices, d)
	}
	for i := before; i < len(h.USB.Devices); i++ {
		d := &h.USB.Devices[i]
		n, hub := most[*d.Path]
		hub = hub || d.Parent == nil
		d.Hub = &hub
		if hub {
			n = max(n, 1)
			d.HubPorts = &n
		}
		uvc := slices.Contains(d.Classes, classVideo)
		d.UVC = &uvc
	}
	if len(all) > 0 {
		h.problem("devices", "this report tells no speeds: ask the devices, or their sheets")
	}
	return nil
}

var socketInPath = regexp.MustCompile(`#USB\((\d+)\)`)

func (l loose) strings(key string) (out []string) {
	switch v := l[key].(type) {
	case string:
		out = append(out, v)
	case []any:
		for _, x := range v {
			if s, ok := x.(string); ok {
				out = append(out, s)
			}
		}
	}
	return out
}

func (h *Here) pnpProcessor(raw json.RawMessage) error {
	list, err := looseList(raw)
	for _, x := range list {
		h.machine().Processor = x.text("Name")
		h.machine().Threads += int(x.number("NumberOfLogicalProcessors"))
	}
	return err
}

func (h *Here) pnpSystem(raw json.RawMessage) error {
	list, err := looseList(raw)
	for _, x := range list {
		h.machine().MemoryGB = math.Round(x.number("TotalPhysicalMemory")/1e8) / 10
	}
	return err
}

func (h *Here) pnpDrives(raw json.RawMessage) error {
	list, err := looseList(raw)
	for _, x := range list[:min(len(list), mostDrives)] {
		kind := x.number("DriveType") // 2 can be taken out, 3 is built in, 4 is elsewhere, 5 a disc [memory]
		if size := x.number("Size"); size > 0 && (kind == 2 || kind == 3) {
			h.machine().Drives = append(h.machine().Drives, Drive{Mount: x.text("DeviceID"),
				System: strings.Replace(strings.ToLower(x.text("FileSystem")), "fat32", "vfat", 1),
				SizeGB: math.Round(size/1e8) / 10, FreeGB: math.Round(x.number("FreeSpace")/1e8) / 10, Leaves: kind == 2})
		}
	}
	return err
}

func (h *Here) pnpBattery(raw json.RawMessage) error {
	if bytes.Equal(bytes.TrimSpace(raw), []byte("null")) {
		return nil
	}
	list, err := looseList(raw)
	for _, x := range list {
		m := h.machine()
		h.Laptop = true
		m.BatteryPct = int(x.number("EstimatedChargeRemaining"))
		m.Power = map[bool]string{true: "battery", false: "mains"}[x.number("BatteryStatus") == 1] // 1: it is being emptied
	}
	return err
}

func (h *Here) pnpGraphics(raw json.RawMessage) error {
	list, err := looseList(raw)
	for _, x := range list {
		if name := x.text("Name"); name != "" {
			h.machine().Graphics = append(h.machine().Graphics, name)
		}
	}
	return err
}

func (h *Here) pnpSleep(raw json.RawMessage) error {
	list, err := looseList(raw)
	for _, x := range list {
		if v := x.text("minutes"); v != "" {
			h.machine().Sleep = map[bool]string{true: "off", false: "on"}[v == "0"]
		}
	}
	return err
}

// listedBy are the beginnings of lines in which ffmpeg lists devices, by system [memory of its form]:
// [dshow @ …] "Full-HD stick" (video), and [AVFoundation indev @ …] [0] Full-HD stick under a heading.
var (
	listedBy   = regexp.MustCompile(`(?m)^\[(?:dshow|AVFoundation indev|in#\d+)[^\]]*\] `)
	quotedName = regexp.MustCompile(`\] +"([^"]+)"(?: \((video|audio|none|video, audio|audio, video)\))?`)
	placedName = regexp.MustCompile(`\] \[\d+\] (.+)$`)
)

// listed reads ffmpeg's listing of devices: their names, which is all it tells.
func (h *Here) listed(name, text string) (n int) {
	pictures := true
	for line := range strings.SplitSeq(text, "\n") {
		line = strings.TrimRight(line, "\r")
		switch {
		case strings.Contains(line, "video devices"):
			pictures = true
		case strings.Contains(line, "audio devices"):
			pictures = false
		case strings.Contains(line, "Alternative name"):
		default:
			m := quotedName.FindStringSubmatch(line)
			if m == nil {
				if p := placedName.FindStringSubmatch(line); p != nil {
					m = []string{"", p[1], ""}
				}
			}
			if m == nil {
				continue
			}
			n++
			if strings.Contains(m[2], "video") || m[2] == "" && pictures {
				h.Captures = append(h.Captures, Capture{Name: cutName(m[1])})
			}
		}
	}
	if n > 0 {
		h.problem(name, "a list of names: where they are plugged in it does not tell")
	}
	return n
}

// more are lines on graphics, sleep and clock.
func (m *Machine) more() (out []string) {
	for _, g := range m.Graphics {
		out = append(out, lang.Text("graphics: %s", g))
	}
	for _, s := range m.Cards {
		out = append(out, s.says())
	}
	switch m.Sleep {
	case "on":
		out = append(out, lang.Text("it goes to sleep by itself"))
	case "off":
		out = append(out, lang.Text("it does not go to sleep by itself"))
	}
	switch m.Clock {
	case "set":
		out = append(out, lang.Text("its clock is set by the network, within %s ms", say.Number(math.Max(1, math.Round(m.ClockMs)))))
	case "adrift":
		out = append(out, lang.Text("its clock is not set by the network: times of the line and the log may be off"))
	}
	return out
}
