// Package gear answers: what can this thing do? A Gear is a spec sheet: its ports, the pictures they take or give, what
// it delivers to a computer, and what it draws.
package gear

import (
	"encoding/json"

	"eventether/core/fact"
	"eventether/core/hdmi"
	"eventether/core/pcie"
	"eventether/core/picture"
	"eventether/core/power"
	"eventether/core/sdi"
	"eventether/core/usb"
)

// Kind is what sort of thing it is.
type Kind string

// The kinds of things a rig is made of.
const (
	Camera         Kind = "camera"
	Phone          Kind = "phone"
	Webcam         Kind = "webcam"
	Computer       Kind = "computer"
	Console        Kind = "console"
	Player         Kind = "player"
	Capture        Kind = "capture"
	Switcher       Kind = "switcher"
	Converter      Kind = "converter"
	Splitter       Kind = "splitter"
	Hub            Kind = "hub"
	Dock           Kind = "dock"
	Card           Kind = "card"
	Drive          Kind = "drive"
	Recorder       Kind = "recorder"
	Monitor        Kind = "monitor"
	Microphone     Kind = "microphone"
	AudioInterface Kind = "audio-interface"
	Mixer          Kind = "mixer"
	WirelessSound  Kind = "wireless-sound"
	Battery        Kind = "battery"
	PowerBank      Kind = "power-bank"
	Supply         Kind = "supply"
	UPS            Kind = "ups"
	Strip          Kind = "strip"
	Lamp           Kind = "lamp"
	KeyPad         Kind = "key-pad" // a keyboard, a pad of keys, a pedal: what a person changes angles with
)

// Kinds lists every kind a document may name.
var Kinds = []Kind{Camera, Phone, Webcam, Computer, Console, Player, Capture, Switcher, Converter, Splitter, Hub, Dock,
	Card, Drive, Recorder, Monitor, Microphone, AudioInterface, Mixer, WirelessSound, Battery, PowerBank, Supply, UPS,
	Strip, Lamp, KeyPad}

// Gives tells whether things of this kind give power to others.
func (k Kind) Gives() bool {
	switch k {
	case Strip, UPS, Supply, PowerBank, Hub, Dock, Computer:
		return true
	}
	return false
}

// Shoots tells whether things of this kind are where a picture begins.
func (k Kind) Shoots() bool {
	switch k {
	case Camera, Phone, Webcam, Console, Player:
		return true
	}
	return false
}

// Connector is the shape of a port.
type Connector string

// The connectors.
const (
	HDMIA     Connector = "hdmi-a"
	HDMIC     Connector = "hdmi-c" // mini
	HDMID     Connector = "hdmi-d" // micro
	BNC       Connector = "bnc"
	USBA      Connector = "usb-a"
	USBB      Connector = "usb-b"
	USBC      Connector = "usb-c"
	USBMicroB Connector = "usb-micro-b"
	Internal  Connector = "internal" // wired inside the case
	PCIe      Connector = "pcie"
	LAN       Connector = "lan"
)

// Connectors lists every connector a document may name.
var Connectors = []Connector{HDMIA, HDMIC, HDMID, BNC, USBA, USBB, USBC, USBMicroB, Internal, PCIe, LAN}

// Family groups connectors a lead can join.
type Family string

// The families of connectors.
const (
	HDMIFamily Family = "hdmi"
	SDIFamily  Family = "sdi"
	USBFamily  Family = "usb"
	PCIeFamily Family = "pcie"
	LANFamily  Family = "lan"
)

// Family of a connector; Internal counts as USB, which is what is wired inside a computer for cameras.
func (c Connector) Family() Family {
	switch c {
	case HDMIA, HDMIC, HDMID:
		return HDMIFamily
	case BNC:
		return SDIFamily
	case PCIe:
		return PCIeFamily
	case LAN:
		return LANFamily
	}
	return USBFamily
}

// Small tells whether it is one of the mini or micro HDMI sockets that want strain relief.
func (c Connector) Small() bool { return c == HDMIC || c == HDMID }

// Direction is which way pictures go through a port.
type Direction string

// In and Out are picture sockets; Upstream faces the computer, Downstream faces devices.
const (
	In         Direction = "in"
	Out        Direction = "out"
	Upstream   Direction = "upstream"
	Downstream Direction = "downstream"
)

// Sends tells whether a picture, or a device's plug, goes out by a port of this direction.
func (d Direction) Sends() bool { return d == Out || d == Upstream }

// Takes tells whether a picture, or a device's plug, comes in by one.
func (d Direction) Takes() bool { return d == In || d == Downstream }

// Replaces tells whether the lead in one socket goes into another as well: the same family and direction, and both
// wired inside a case or neither.
func (p *Port) Replaces(was *Port) bool {
	return p.Connector.Family() == was.Connector.Family() && p.Direction == was.Direction &&
		(p.Connector == Internal) == (was.Connector == Internal)
}

// Clean tells whether a picture output is free of menus and boxes.
type Clean string

// The four states.
const (
	AlwaysClean  Clean = "clean"
	AfterSetting Clean = "after-setting"
	NeverClean   Clean = "never"
	UnknownClean Clean = "unknown"
)

// Cleans lists every clean state.
var Cleans = []Clean{AlwaysClean, AfterSetting, NeverClean, UnknownClean}

// Gear is one spec sheet.
type Gear struct {
	Kind        Kind         `json:"kind"`
	Name        string       `json:"name" minLength:"1" maxLength:"120"`
	Clean       Clean        `json:"clean,omitempty" enum:"clean,after-setting,never,unknown" doc:"Is the picture output free of menus and boxes?"`
	Ports       []Port       `json:"ports,omitempty" maxItems:"64"`
	Delivers    []Delivery   `json:"delivers,omitempty" maxItems:"200" doc:"What arrives in the computer, richest first"`
	Controllers []Controller `json:"controllers,omitempty" maxItems:"32" doc:"Where USB sharing ends, in a computer or dock"`
	Power       *Power       `json:"power,omitempty"`
	FreeGB      *fact.Fact   `json:"freeGB,omitempty" doc:"Free space of a drive, decimal gigabytes"`
	WriteMBps   *fact.Fact   `json:"writeMBps,omitempty" doc:"Sustained write of a drive, megabytes a second"`

	Class              Class        `json:"class,omitempty" enum:"laptop,small-laptop,good-laptop,desktop,mid-desktop,large-desktop" doc:"Of a computer: its kind, where nobody has measured it"`
	Computes           *Computes    `json:"computes,omitempty" doc:"Of a computer: what it can do"`
	FileSystem         string       `json:"fileSystem,omitempty" enum:"fat32,exfat,other" doc:"Of a drive: fat32 ends a file at 4 GiB"`
	Settings           []Setting    `json:"settings,omitempty" maxItems:"40" doc:"Settings of its own that matter for a show"`
	RecordLimitMinutes *fact.Fact   `json:"recordLimitMinutes,omitempty" doc:"How long it records at a time"`
	PictureDelayMs     *fact.Fact   `json:"pictureDelayMs,omitempty" doc:"What the picture is delayed by on its way through it, milliseconds; by its kind when nobody has measured"`
	Standby            *Standby     `json:"standby,omitempty" doc:"What it does when nobody touches it"`
	Protected          Protected    `json:"protected,omitempty" enum:"never,setting,always,unknown" doc:"Does it encrypt its picture output? setting: until that is turned off"`
	Turns              bool         `json:"turns,omitempty" doc:"The picture follows when the device is turned upright"`
	OddSizes           picture.How  `json:"oddSizes,omitempty" enum:"box,crop,scale,refuse,unknown" doc:"What becomes of a picture of another shape than what is delivered"`
	Overview           string       `json:"overview,omitempty" enum:"yes,no,unknown" doc:"Of a switcher: an output shows all inputs"`
	USBWay             string       `json:"usbWay,omitempty" enum:"webcam,remote" doc:"By its own USB it is a webcam, or is read by a program's remote mode"`
	ListedAs           string       `json:"listedAs,omitempty" maxLength:"120" doc:"The name programs list it under"`
	OpensSmall         bool         `json:"opensSmall,omitempty" doc:"Its size has to be chosen by hand in the program"`
	Shares             bool         `json:"shares,omitempty" doc:"Several programs can take its picture at once"`
	Driver             string       `json:"driver,omitempty" enum:"none,driver,software,unknown" doc:"What has to be installed for it"`
	Systems            []string     `json:"systems,omitempty" maxItems:"20" doc:"Systems it works on"`
	USB2               string       `json:"usb2,omitempty" enum:"shared,apart,unknown" doc:"Of a computer or dock: whether the 480 Mb/s sides of its sockets share one bus"`
	USB2Packets        int          `json:"usb2Packets,omitempty" enum:"4,5" doc:"Reserving packets of 1024 bytes its controller fits in a microframe, once tried"`
	BusMBps            *fact.Fact   `json:"busMBps,omitempty" doc:"What it takes of the USB bus while in use, when it sends no picture: drives, sound"`
	UplinkMBps         *fact.Fact   `json:"uplinkMBps,omitempty" doc:"Of a computer: what its USB sockets without a named controller share, megabytes a second"`
	Sound              *SoundSheet  `json:"sound,omitempty" doc:"What it does with sound"`
	HeatLimits         []HeatLimit  `json:"heatLimits,omitempty" maxItems:"40" doc:"How long it runs before heat stops it, by picture"`
	WorksWith          []Experience `json:"worksWith,omitempty" maxItems:"100" doc:"With which programs it has worked"`
	Notes              string       `json:"notes,omitempty" maxLength:"2000"`
}

// SoundSheet is what a thing does with sound.
type SoundSheet struct {
	Microphone string     `json:"microphone,omitempty" enum:"dynamic,condenser,lavalier,headset,built-in,unknown" doc:"Its microphone"`
	Needs      string     `json:"needs,omitempty" enum:"none,phantom,plug-in,battery,unknown" doc:"What its microphone is fed by"`
	Gives      string     `json:"gives,omitempty" enum:"microphone,consumer-line,professional-line,digital,unknown" doc:"What comes out of it"`
	Balanced   string     `json:"balanced,omitempty" enum:"yes,no,unknown" doc:"Its output is balanced"`
	Takes      string     `json:"takes,omitempty" enum:"microphone,preamplifier,line,digital,unknown" doc:"What its input takes: microphone is the socket of a camera or switcher"`
	Inputs     *fact.Fact `json:"inputs,omitempty" doc:"How many microphones it takes at once"`
	Socket     string     `json:"socket,omitempty" enum:"jack-3.5,jack-6.3,xlr,usb,air,unknown" doc:"Its input"`
	Feeds      string     `json:"feeds,omitempty" enum:"none,phantom,plug-in,unknown" doc:"What its input feeds microphones with"`
	KHz        *float64   `json:"kHz,omitempty" minimum:"0" maximum:"384" doc:"Its sample rate; 0 when it has none: analogue"`
	DelayMs    *fact.Fact `json:"delayMs,omitempty" doc:"Delay of sound through it"`
	Processes  Answer     `json:"processes,omitempty" enum:"yes,no,unknown" doc:"It treats speech: echo cancelling, a gate"`
	AutoLevel  Answer     `json:"autoLevel,omitempty" enum:"yes,no,unknown" doc:"Its automatic level control is on: yes, no (it is off, or it has none)"`
	ListedAs   string     `json:"listedAs,omitempty" maxLength:"120" doc:"The name programs list its sound under"`
}

// Answer is a yes or no that may be unknown; the zero Answer is nobody's.
type Answer string

// Yes, no, and nobody knows.
const (
	Yes      Answer = "yes"
	No       Answer = "no"
	NoAnswer Answer = "unknown"
)

// Known tells whether it is a yes or no.
func (a Answer) Known() bool { return a == Yes || a == No }

// UnmarshalJSON reads the words, and true and false as older files have them.
func (a *Answer) UnmarshalJSON(b []byte) error {
	switch string(b) {
	case "true":
		*a = Yes
	case "false":
		*a = No
	default:
		return json.Unmarshal(b, (*string)(a))
	}
	return nil
}

// Setting is one setting of a device that can spoil a show. Its id says what it is; Standard settings have a wanted
// value.
type Setting struct {
	ID       string   `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" maxLength:"60"`
	Label    string   `json:"label,omitempty" maxLength:"120"`
	As       string   `json:"as,omitempty" maxLength:"60" doc:"How it stands as the device comes, such as on or off; unknown when not said"`
	Want     string   `json:"want,omitempty" maxLength:"60" doc:"What a show needs; the usual one when not said"`
	Excludes []string `json:"excludes,omitempty" maxItems:"20" doc:"Settings that must be off while this one is on"`
}

// Standby is what a device does when nobody touches it for a while.
type Standby struct {
	AfterMinutes *fact.Fact `json:"afterMinutes,omitempty"`
	Does         string     `json:"does,omitempty" enum:"nothing,resizes,black,unknown" doc:"What becomes of the picture output"`
}

// Protected tells whether a device encrypts its picture output, so that a capture device shows black.
type Protected string

// The answers. AfterOff is protected until its own menu turns that off.
const (
	NeverProtected   Protected = "never"
	UntilTurnedOff   Protected = "setting"
	AlwaysProtected  Protected = "always"
	UnknownProtected Protected = "unknown"
)

// HeatLimit is how long a device runs in one picture before heat stops it, as measured. Without a size it holds for
// all.
type HeatLimit struct {
	Width   int          `json:"width,omitempty" minimum:"0" maximum:"16384"`
	Height  int          `json:"height,omitempty" minimum:"0" maximum:"16384"`
	Rate    picture.Rate `json:"rate,omitzero"`
	Minutes fact.Fact    `json:"minutes"`
}

// Experience is what happened when a device was used with a program.
type Experience struct {
	Program string `json:"program" minLength:"1" maxLength:"120" doc:"The program's name, or its kind"`
	Works   string `json:"works" enum:"works,badly,no,untested"`
	Note    string `json:"note,omitempty" maxLength:"500"`
	At      string `json:"at,omitempty" format:"date"`
}

// Port is one socket of a thing.
type Port struct {
	ID        string         `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" maxLength:"60"`
	Label     string         `json:"label,omitempty" maxLength:"120"`
	Connector Connector      `json:"connector"`
	Direction Direction      `json:"direction" enum:"in,out,upstream,downstream"`
	HDMI      *HDMIPort      `json:"hdmi,omitempty"`
	SDI       *SDIPort       `json:"sdi,omitempty"`
	Modes     []picture.Mode `json:"modes,omitempty" maxItems:"400" doc:"Pictures the port gives or takes; none listed means nobody has looked"`
	Refuses   []picture.Mode `json:"refuses,omitempty" maxItems:"400" doc:"Pictures that were tried and do not work"`
	// MoreModes marks a list that may be incomplete: a mode that is not on it is untested, not refused.
	MoreModes  bool       `json:"moreModes,omitempty" doc:"The list may be incomplete"`
	ModesFrom  string     `json:"modesFrom,omitempty" enum:"edid,data-sheet,tried" doc:"Where the list comes from"`
	ModesAt    string     `json:"modesAt,omitempty" format:"date"`
	Takes420   string     `json:"takes420,omitempty" enum:"yes,no,unknown" doc:"Of an input: it takes pictures at 4:2:0"`
	LoopOf     string     `json:"loopOf,omitempty" maxLength:"60" doc:"This output passes on what comes in at that port"`
	Scaler     bool       `json:"scaler,omitempty" doc:"This input scales what comes in to the device's own picture"`
	USB        *USBPort   `json:"usb,omitempty"`
	Controller string     `json:"controller,omitempty" doc:"The controller this computer port hangs on"`
	AllowsMA   *fact.Fact `json:"allowsMa,omitempty" doc:"Current the port allows, milliamperes at 5 V"`
	ChargeOnly bool       `json:"chargeOnly,omitempty" doc:"It gives power and carries no data"`
	Volts      *fact.Fact `json:"volts,omitempty" doc:"Volts measured at the socket under load; 4.75 to 5.25 when nobody has measured"`
	Slot       *Slot      `json:"slot,omitempty"`
}

// Slot is a card slot of a computer, or what a card needs of one.
type Slot struct {
	pcie.Link
	Size       int    `json:"size,omitempty" enum:"1,4,8,16" doc:"How long the slot is; it may have fewer lanes wired"`
	SharedWith string `json:"sharedWith,omitempty" maxLength:"120" doc:"What halves it or turns it off, such as a drive in the next socket"`
	Sharing    string `json:"sharing,omitempty" enum:"whole,half,off,unknown" doc:"What the slot has left once somebody has looked"`
	Place      int    `json:"place,omitempty" minimum:"0" maximum:"20" doc:"Counted from the processor; cards side by side heat each other"`
}

// HDMIPort is what an HDMI socket can do.
type HDMIPort struct {
	MaxTMDSMHz *fact.Fact `json:"maxTmdsMHz,omitempty" doc:"Highest TMDS character rate in MHz: 165, 340 or 600 by HDMI version"`
	FixedRate  hdmi.FRL   `json:"fixedRate,omitempty" enum:"3x3,3x6,4x6,4x8,4x10,4x12,none,unknown" doc:"Fastest fixed-rate link, lanes × Gb/s; none when not said and the character rate is below 600 MHz"`
}

// SDIPort is what an SDI socket can do.
type SDIPort struct {
	Link  sdi.Link  `json:"link" enum:"SD,HD,3G,6G,12G,unknown" doc:"Fastest link"`
	Level sdi.Level `json:"level,omitempty" enum:"A,B,AB,unknown" doc:"Mapping of 1080 lines at 50 frames and more: what an output sends, an input takes"`
}

// USBPort is what a USB socket can do.
type USBPort struct {
	Speed    usb.Speed    `json:"speed" enum:"480M,5G,10Gx2,10G,20G,40G,unknown"`
	Transfer usb.Transfer `json:"transfer,omitempty" enum:"bulk,isochronous,unknown" doc:"How the device's stream uses the bus"`
	// ReservesMBps bounds what any of its streams reserves: its smallest and largest alternate setting.
	ReservesMBps *fact.Fact `json:"reservesMBps,omitempty" doc:"Megabytes a second its alternate settings reserve, the smallest to the largest"`
}

// Delivery is one picture a device can hand to the computer.
type Delivery struct {
	Format       picture.Format `json:"format" enum:"NV12,I420,YUY2,UYVY,RGB24,BGRA,P010,v210,MJPEG,H.264"`
	Width        int            `json:"width" minimum:"16" maximum:"16384" doc:"The largest, when there are steps"`
	Height       int            `json:"height" minimum:"16" maximum:"16384"`
	MaxRate      picture.Rate   `json:"maxRate"`
	Rates        []picture.Rate `json:"rates,omitempty" maxItems:"60" doc:"The only rates it comes at; any up to maxRate when not said"`
	Steps        *Steps         `json:"steps,omitempty" doc:"Smaller sizes it comes in"`
	BitsPerPixel *fact.Fact     `json:"bitsPerPixel,omitempty" doc:"Of a compressed picture; 2 with bounds 1 to 4 when not said"`
	ReservesMBps *fact.Fact     `json:"reservesMBps,omitempty" doc:"Megabytes a second the device reserves of the bus for this picture, whatever it sends"`
}

// Steps are the sizes between a smallest and a delivery's own.
type Steps struct {
	MinWidth   int `json:"minWidth" minimum:"1" maximum:"16384"`
	MinHeight  int `json:"minHeight" minimum:"1" maximum:"16384"`
	StepWidth  int `json:"stepWidth" minimum:"1" maximum:"16384"`
	StepHeight int `json:"stepHeight" minimum:"1" maximum:"16384"`
}

// Size is the size of a delivery for a picture of w × h: the delivery's own, or the step nearest below the picture's.
// ok is false when even the smallest is larger than the picture.
func (d *Delivery) Size(w, h int) (width, height int, ok bool) {
	if d.Steps == nil || w >= d.Width && h >= d.Height {
		return d.Width, d.Height, w >= d.Width && h >= d.Height
	}
	s := d.Steps
	down := func(want, least, most, step int) int {
		want = min(want, most)
		return want - (want-least)%step
	}
	width, height = down(w, s.MinWidth, d.Width, s.StepWidth), down(h, s.MinHeight, d.Height, s.StepHeight)
	return width, height, w >= s.MinWidth && h >= s.MinHeight
}

// RateFor is the rate a delivery comes at for a picture at rate in: the picture's own, or of the rates it has the
// highest not above it, else an even part of the picture's rate.
func (d *Delivery) RateFor(in picture.Rate) picture.Rate {
	if in.IsZero() || d.MaxRate.IsZero() {
		return d.MaxRate
	}
	var best picture.Rate
	for _, r := range d.Rates {
		if r.Nominal() == in.Nominal() {
			return in // it follows what comes in; listings name the round rate
		}
		if r.Cmp(in) < 0 && (best.IsZero() || r.Cmp(best) > 0) {
			best = r
		}
	}
	if !best.IsZero() {
		return best
	}
	return in.Part(d.MaxRate)
}

// Controller is one USB controller: every port on it shares its uplink.
type Controller struct {
	ID         string     `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" maxLength:"60"`
	UplinkMBps *fact.Fact `json:"uplinkMBps,omitempty" doc:"What all its ports share, megabytes a second"`
}

// Power is what a thing draws and what it can run on.
type Power struct {
	DrawW   *fact.Fact    `json:"drawW,omitempty" doc:"Watts while sending a picture"`
	Battery *BatteryPack  `json:"battery,omitempty"`
	Mains   MainsPossible `json:"mains,omitempty" enum:"yes,dummy-battery,no,unknown" doc:"Can it run on the mains, and how"`
	// What it gives to others.
	SelfPowered string     `json:"selfPowered,omitempty" enum:"yes,no,unknown" doc:"Of a hub: has a supply of its own"`
	SupplyW     *fact.Fact `json:"supplyW,omitempty" doc:"Watts its supply gives: of a hub, dock, supply or power bank"`
	SupplyVolts *fact.Fact `json:"supplyVolts,omitempty" doc:"Volts of that supply; above 5 a tenth is lost on the way down"`
	ChargesW    *fact.Fact `json:"chargesW,omitempty" doc:"Of a dock: watts that charge the laptop"`
	// USB power at a camera.
	USB         string     `json:"usb,omitempty" enum:"runs,charges,no,unknown" doc:"What power by USB does: runs it, only charges it, nothing"`
	PowerFactor *fact.Fact `json:"powerFactor,omitempty" doc:"Watts for each volt-ampere on the mains; 0.9 with bounds 0.5 to 1 when not said"`
	// Of a strip, circuit or UPS.
	RatedA     *fact.Fact `json:"ratedA,omitempty" doc:"Amperes a strip may carry"`
	LimitW     *fact.Fact `json:"limitW,omitempty" doc:"Watts a UPS gives"`
	LimitVA    *fact.Fact `json:"limitVA,omitempty" doc:"Volt-amperes a UPS gives"`
	Efficiency *fact.Fact `json:"efficiency,omitempty" doc:"Share of a UPS battery that reaches its outlets"`
}

// BatteryPack is a battery's rating.
type BatteryPack struct {
	MAh         fact.Fact  `json:"mAh"`
	Volts       fact.Fact  `json:"volts"`
	UsableShare *fact.Fact `json:"usableShare,omitempty" doc:"Share of the rating that is usable; 0.9 new, less with age and cold"`
}

// MainsPossible is how a thing runs on the mains.
type MainsPossible string

// The ways a camera runs on the mains.
const (
	MainsYes     MainsPossible = "yes"
	MainsDummy   MainsPossible = "dummy-battery"
	MainsNo      MainsPossible = "no"
	MainsUnknown MainsPossible = "unknown"
)

// typicalDraw are watts of things whose sheet is silent [estimate], at least as wide as what the sheets of the shelf say.
// A battery that hangs on an outlet is being charged: it takes what anything may.
var typicalDraw = map[Kind]fact.Fact{Capture: fact.Est(2.5, 1, 8), Webcam: fact.Est(1.5, 0.5, 2.5),
	Drive: fact.Est(4.5, 2, 8), Hub: fact.Est(0.8, 0.3, 1.5),
	AudioInterface: fact.Est(2.5, 1.5, 12), Microphone: fact.Est(1, 0.3, 2), Camera: fact.Est(6, 2, 30),
	Phone: fact.Est(3, 1, 7), Computer: fact.Est(120, 20, 1200),
	Monitor: fact.Est(25, 8, 120), Switcher: fact.Est(18, 5, 60), Dock: fact.Est(10, 1, 20),
	Console: fact.Est(120, 50, 220), Lamp: fact.Est(30, 5, 200),
	Mixer: fact.Est(20, 8, 45), Converter: fact.Est(3, 1, 6), Splitter: fact.Est(3, 1, 6), Player: fact.Est(15, 5, 35),
	Recorder: fact.Est(10, 0.5, 30),
	Card:     fact.Est(12, 3, 25), WirelessSound: fact.Est(0.6, 0.2, 2), UPS: fact.Est(10, 3, 30),
	Supply: fact.Est(1, 0, 5), PowerBank: fact.Est(0.2, 0, 1),
	Strip: fact.Est(0, 0, 1), KeyPad: fact.Est(0.8, 0.1, 2.5)}

// Draws is what a thing draws in watts: as its sheet says, else what is typical of its kind.
func (g *Gear) Draws() fact.Fact {
	if g.Power != nil && g.Power.DrawW != nil {
		return *g.Power.DrawW
	}
	if f, ok := typicalDraw[g.Kind]; ok {
		if g.Kind == Computer {
			switch g.Class {
			case Laptop, SmallLaptop, GoodLaptop:
				return fact.Est(65, 20, 240)
			case DesktopClass, MidDesktop, LargeDesktop:
				return fact.Est(200, 60, 1200)
			}
		}
		return f
	}
	return fact.Est(5, 0, 20)
}

// typicalBus is what a device without a picture takes of the bus in MB/s [estimate]: sound a little, a drive what is
// written to it.
var typicalBus = map[Kind]fact.Fact{AudioInterface: fact.Est(0.6, 0.2, 2.5), Microphone: fact.Est(0.3, 0.1, 0.8),
	Mixer: fact.Est(1.2, 0.3, 4), Drive: fact.Est(20, 0, 400)}

// TakesOfBus is what a device that sends no picture takes of the bus while in use, in MB/s.
func (g *Gear) TakesOfBus() fact.Fact {
	if g.BusMBps != nil {
		return *g.BusMBps
	}
	if f, ok := typicalBus[g.Kind]; ok {
		return f
	}
	return fact.Est(0.05, 0, 0.2)
}

// BusPowered tells whether a thing lives on the current of the USB socket it is plugged into: surely, or possibly.
// Small USB devices do unless their sheet says they have a supply of their own [practice]; one that has may take a
// little all the same.
func (g *Gear) BusPowered() (surely, possibly bool) {
	switch g.Kind {
	case Capture, Webcam, Drive, Microphone, AudioInterface:
		return g.Power == nil || g.Power.Mains != MainsYes, g.Power == nil || g.Power.Mains != MainsYes
	case Hub:
		self := "unknown"
		if g.Power != nil && g.Power.SelfPowered != "" {
			self = g.Power.SelfPowered
		}
		return self == "no", self != "yes"
	}
	return false, false
}

// Port finds a port by id; -1 when there is none.
func (g *Gear) Port(id string) int {
	for i := range g.Ports {
		if g.Ports[i].ID == id {
			return i
		}
	}
	return -1
}

// Estimates used where a sheet is silent, all [estimate].
var (
	// DefaultMJPEGBits is the bits a pixel of MJPEG when the device does not say.
	DefaultMJPEGBits = fact.Est(2, 1, 4)
	// DefaultH264Bits is the bits a pixel of a camera's own H.264 (these sit at 0.05 to 0.15).
	DefaultH264Bits = fact.Est(0.1, 0.05, 0.15)
	// DefaultMaxTMDS bounds an HDMI socket nobody has looked up: full-HD sockets to 4K60 sockets.
	DefaultMaxTMDS = fact.Est(hdmi.MHz14, hdmi.MHz12, hdmi.MHz20)
	// DefaultStandby is after how many minutes without a touch a camera sleeps, when nobody has looked.
	DefaultStandby = fact.Est(30, 1, 60)
	// DefaultUsable is the usable share of a battery of unknown age.
	DefaultUsable = fact.Est(0.85, power.UsableAged, power.UsableNew)
	// DefaultPowerFactor is watts for each volt-ampere of a small mains supply nobody has looked up.
	DefaultPowerFactor = fact.Est(0.9, 0.5, 1)
	// DefaultAWG is the wire gauge of a USB lead without a print: thin charging leads to thick ones.
	DefaultAWG = fact.Est(28, 20, 30)
	// DefaultPortVolts is what a USB socket gives that nobody has measured.
	DefaultPortVolts = fact.Est(5, 4.75, 5.25)
	// DefaultBattery bounds the pack of a camera or phone nobody has described: a small one of one cell to a large one
	// of four.
	DefaultBattery = BatteryPack{MAh: fact.Est(1500, 700, 8000), Volts: fact.Est(7.2, 3.6, 14.8)}
	// DefaultBankMAh bounds a power bank nobody has read.
	DefaultBankMAh = fact.Est(10000, 2000, 30000)
	// BankVolts are the volts a power bank's mAh are at: those of its cells, not 5.
	BankVolts = fact.Fact{Value: 3.65, Low: 3.6, High: 3.7, From: fact.Practice}
	// DefaultRecordLimit bounds how long a camera records at a time when nobody has looked: half an hour to a day.
	DefaultRecordLimit = fact.Est(120, 29, 1440)
	// DefaultHeatLimit bounds how long a camera runs in a demanding picture before heat stops it.
	DefaultHeatLimit = fact.Est(90, 10, 1440)
	// DefaultStripA and DefaultCircuitA are ratings nobody has read [estimate]: strips and circuits of the lighter
	// kind.
	DefaultStripA   = fact.Est(10, 10, 16)
	DefaultCircuitA = fact.Est(16, 10, 32)
	// DefaultCharges bounds what a dock charges a laptop with.
	DefaultCharges = fact.Est(45, 0, 100)
	// DefaultUplink bounds what a controller's uplink carries when nobody has read it: an add-in card on one
	// Gen 2 lane (410) to a controller in the chipset.
	DefaultUplink = fact.Est(2000, 400, 8000)
)

// Allows is the current a USB socket gives, in mA: as stated, else by its speed and shape [standard: USB 2.0, 7.2.1;
// USB 3.2, 11.4.1; USB Type-C: up to 3 A by what it advertises].
func (p *Port) Allows() fact.Fact {
	if p.AllowsMA != nil {
		return *p.AllowsMA
	}
	f := fact.Known(power.PortUSB3, fact.Standard)
	speed := usb.UnknownSpeed
	if p.USB != nil {
		speed = p.USB.Speed
	}
	switch speed {
	case usb.HighSpeed:
		f = fact.Known(power.PortUSB2, fact.Standard)
	case usb.Gen1x2, usb.Gen2x2:
		f = fact.Known(power.PortUSB3x2, fact.Standard)
	case usb.Tunnel:
		f = fact.Fact{Value: power.PortUSB3, Low: power.PortUSB3, High: power.PortUSB3x2, From: fact.Standard}
	case usb.UnknownSpeed:
		f = fact.Fact{Value: power.PortUSB2, Low: power.PortUSB2, High: power.PortUSB3x2, From: fact.Standard}
	}
	if p.Connector == USBC {
		f.High = max(f.High, power.TypeC3A)
	}
	return f
}

// LeftAt5V is the share of a supply that is left at 5 V: all of one of 5 V, less of one that is turned down [estimate].
func (p *Power) LeftAt5V() fact.Fact {
	switch v := p.SupplyVolts; {
	case v == nil:
		return fact.Fact{Value: power.Converter, Low: power.Converter, High: 1, From: fact.Estimate}
	case v.High <= 5.5:
		return fact.Known(1, fact.Standard)
	}
	return fact.Known(power.Converter, fact.Estimate)
}
