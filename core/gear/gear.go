// Package gear answers: what can this thing do? A Gear is a spec sheet: its ports, the pictures they take or give, what
// it delivers to a computer, and what it draws.
package gear

import (
	"eventether/core/fact"
	"eventether/core/hdmi"
	"eventether/core/picture"
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
)

// Kinds lists every kind a document may name.
var Kinds = []Kind{Camera, Phone, Webcam, Computer, Console, Player, Capture, Switcher, Converter, Splitter, Hub, Dock,
	Card, Drive, Recorder, Monitor, Microphone, AudioInterface, Mixer, WirelessSound, Battery, PowerBank, Supply, UPS,
	Strip, Lamp}

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

// The connectors of handbook 2.4.
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

// Clean tells whether a picture output is free of menus and boxes. Handbook 2.1.
type Clean string

// The four states of handbook 2.1.
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
	Notes       string       `json:"notes,omitempty" maxLength:"2000"`
}

// Port is one socket of a thing.
type Port struct {
	ID        string         `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" maxLength:"60"`
	Label     string         `json:"label,omitempty" maxLength:"120"`
	Connector Connector      `json:"connector"`
	Direction Direction      `json:"direction" enum:"in,out,upstream,downstream"`
	HDMI      *HDMIPort      `json:"hdmi,omitempty"`
	Modes     []picture.Mode `json:"modes,omitempty" maxItems:"400" doc:"Pictures the port gives or takes; none listed means nobody has looked"`
	Refuses   []picture.Mode `json:"refuses,omitempty" maxItems:"400" doc:"Pictures that were tried and do not work"`
	// MoreModes marks a list that may be incomplete: a mode that is not on it is untested, not refused.
	MoreModes  bool       `json:"moreModes,omitempty" doc:"The list may be incomplete"`
	USB        *USBPort   `json:"usb,omitempty"`
	Controller string     `json:"controller,omitempty" doc:"The controller this computer port hangs on"`
	AllowsMA   *fact.Fact `json:"allowsMa,omitempty" doc:"Current the port allows, milliamperes at 5 V"`
}

// HDMIPort is what an HDMI socket can do.
type HDMIPort struct {
	MaxTMDSMHz *fact.Fact `json:"maxTmdsMHz,omitempty" doc:"Highest TMDS character rate in MHz: 165, 340 or 600 by HDMI version"`
}

// USBPort is what a USB socket can do.
type USBPort struct {
	Speed    usb.Speed    `json:"speed" enum:"480M,5G,10Gx2,10G,20G,40G,unknown"`
	Transfer usb.Transfer `json:"transfer,omitempty" enum:"bulk,isochronous,unknown" doc:"How the device's stream uses the bus"`
}

// Delivery is one picture a device can hand to the computer.
type Delivery struct {
	Format       picture.Format `json:"format" enum:"NV12,I420,YUY2,UYVY,RGB24,BGRA,P010,v210,MJPEG,H.264"`
	Width        int            `json:"width" minimum:"16" maximum:"16384"`
	Height       int            `json:"height" minimum:"16" maximum:"16384"`
	MaxRate      picture.Rate   `json:"maxRate"`
	BitsPerPixel *fact.Fact     `json:"bitsPerPixel,omitempty" doc:"Of a compressed picture; 2 with bounds 1 to 4 when not said"`
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

// Port finds a port by id; -1 when there is none.
func (g *Gear) Port(id string) int {
	for i := range g.Ports {
		if g.Ports[i].ID == id {
			return i
		}
	}
	return -1
}

// Estimates used where a sheet is silent, all [estimate] of the handbook.
var (
	// DefaultMJPEGBits is the bits a pixel of MJPEG when the device does not say (handbook 1.2).
	DefaultMJPEGBits = fact.Est(2, 1, 4)
	// DefaultH264Bits is the bits a pixel of a camera's own H.264 (handbook 5.3: these sit at 0.05 to 0.15).
	DefaultH264Bits = fact.Est(0.1, 0.05, 0.15)
	// DefaultMaxTMDS bounds an HDMI socket nobody has looked up: full-HD sockets to 4K60 sockets.
	DefaultMaxTMDS = fact.Est(hdmi.MHz14, hdmi.MHz12, hdmi.MHz20)
	// DefaultUsable is the usable share of a battery of unknown age (handbook 4.2).
	DefaultUsable = fact.Est(0.85, 0.7, 0.9)
	// DefaultUplink bounds what a controller's uplink carries when nobody has read it: an add-in card on one
	// Gen 2 lane (410, handbook 3.3) to a controller in the chipset.
	DefaultUplink = fact.Est(2000, 410, 3900)
)
