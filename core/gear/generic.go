package gear

import (
	"eventether/core/fact"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/sdi"
	"eventether/core/usb"
)

// Generic is a made-up, typical thing with wide bounds: what a start from three answers is filled with, and what can be
// bought. All its figures are [estimate].
type Generic struct {
	Key   string `json:"key"`
	Label string `json:"label"`
	Gear  Gear   `json:"gear"`
	Price Amount `json:"price"`
}

var (
	f2997 = picture.NewRate(30000, 1001)
	f5994 = picture.NewRate(60000, 1001)
)

func mode(w, h int, r picture.Rate) picture.Mode { return picture.Mode{Width: w, Height: h, Rate: r} }

func factOf(f fact.Fact) *fact.Fact { return &f }

// hdModes are the full-HD and HD pictures nearly every socket knows.
func hdModes() []picture.Mode {
	return []picture.Mode{mode(1920, 1080, f5994), mode(1920, 1080, picture.R(60)), mode(1920, 1080, picture.R(50)),
		mode(1920, 1080, f2997), mode(1920, 1080, picture.R(30)), mode(1920, 1080, picture.R(25)),
		mode(1920, 1080, picture.NewRate(24000, 1001)),
		mode(1920, 1080, picture.R(24)), mode(1280, 720, f5994), mode(1280, 720, picture.R(60)),
		mode(1280, 720, picture.R(50))}
}

func uhdModes() []picture.Mode {
	return append([]picture.Mode{mode(3840, 2160, f2997), mode(3840, 2160, picture.R(30)),
		mode(3840, 2160, picture.R(25)),
		mode(3840, 2160, picture.NewRate(24000, 1001)), mode(3840, 2160, picture.R(24))}, hdModes()...)
}

func delivers(w, h int, max int64, formats ...picture.Format) (out []Delivery) {
	for _, f := range formats {
		out = append(out, Delivery{Format: f, Width: w, Height: h, MaxRate: picture.R(max)})
	}
	return out
}

// StrongerCapture are capture devices that can be bought when one does not take or carry the picture.
var StrongerCapture = []Generic{
	{Key: "full-hd-stick", Label: "Full-HD stick", Price: 4500, Gear: Gear{Kind: Capture, Name: "full-HD stick",
		Ports: []Port{
			{ID: "in", Connector: HDMIA, Direction: In,
				HDMI: &HDMIPort{MaxTMDSMHz: factOf(fact.Known(hdmi.MHz12, fact.Estimate))}, Modes: hdModes()},
			{ID: "usb", Connector: USBA, Direction: Upstream, USB: &USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}}},
		Delivers: delivers(1920, 1080, 60, picture.YUY2, picture.NV12),
		Power:    &Power{DrawW: factOf(fact.Est(2.5, 2, 3.5))}}},
	{Key: "4k-stick", Label: "4K stick", Price: 12000, Gear: Gear{Kind: Capture, Name: "4K stick", Ports: []Port{
		{ID: "in", Connector: HDMIA, Direction: In,
			HDMI: &HDMIPort{MaxTMDSMHz: factOf(fact.Known(hdmi.MHz14, fact.Estimate))}, Modes: uhdModes()},
		{ID: "usb", Connector: USBA, Direction: Upstream, USB: &USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}}},
		Delivers: append(delivers(1920, 1080, 60, picture.YUY2, picture.NV12),
			delivers(3840, 2160, 30, picture.NV12)...),
		Power: &Power{DrawW: factOf(fact.Est(4, 3, 5))}}},
}

// SDIBox is the capture device for a source with SDI.
var SDIBox = Generic{Key: "sdi-box", Label: "SDI box", Price: 16000, Gear: Gear{Kind: Capture, Name: "SDI box",
	Ports: []Port{
		{ID: "in", Connector: BNC, Direction: In, SDI: &SDIPort{Link: sdi.ThreeG, Level: sdi.BothLevels},
			Modes: hdModes()},
		{ID: "usb", Connector: USBA, Direction: Upstream, USB: &USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}}},
	Delivers: delivers(1920, 1080, 60, picture.YUY2, picture.NV12), Driver: "none",
	Power: &Power{DrawW: factOf(fact.Est(3.5, 2.5, 4.5))}}}

// ToSDI and FromSDI take a picture from HDMI to coax and back.
var (
	ToSDI = Generic{Key: "hdmi-to-sdi", Label: "HDMI to SDI converter", Price: 5000,
		Gear: Gear{Kind: Converter, Name: "HDMI to SDI converter",
			Ports: []Port{hdmiPort("in", HDMIA, In, hdmi.MHz12, hdModes()), sdiPort("out", Out, sdi.ThreeG, sdi.LevelA,
				hdModes())}, Power: onMains(watts(3, 2, 5))}}
	FromSDI = Generic{Key: "sdi-to-hdmi", Label: "SDI to HDMI converter", Price: 5000,
		Gear: Gear{Kind: Converter, Name: "SDI to HDMI converter",
			Ports: []Port{sdiPort("in", In, sdi.ThreeG, sdi.BothLevels, hdModes()),
				hdmiPort("out", HDMIA, Out, hdmi.MHz12,
					hdModes())}, Power: onMains(watts(3, 2, 5))}}
)

// Sources are the kinds of source a start offers.
var Sources = []Generic{
	{Key: "camera", Label: "Camera with HDMI", Gear: Gear{Kind: Camera, Name: "Camera with HDMI", Clean: UnknownClean,
		Ports: []Port{
			{ID: "hdmi", Connector: HDMID, Direction: Out,
				HDMI: &HDMIPort{MaxTMDSMHz: factOf(fact.Est(hdmi.MHz14, hdmi.MHz14, hdmi.MHz20))}, Modes: uhdModes()}},
		Settings: settings("auto-power-off", "output-size"), // nearly every camera has both [practice]
		Power: &Power{DrawW: factOf(fact.Est(6, 3, 9)), Mains: MainsDummy,
			Battery: &BatteryPack{MAh: fact.Est(1500, 1000, 2300), Volts: fact.Known(7.2, fact.Practice),
				UsableShare: factOf(DefaultUsable)}}}},
	{Key: "webcam", Label: "Webcam", Gear: Gear{Kind: Webcam, Name: "Webcam", Clean: AlwaysClean, Ports: []Port{
		{ID: "usb", Connector: USBA, Direction: Upstream, USB: &USBPort{Speed: usb.HighSpeed,
			Transfer: usb.Isochronous}}},
		Delivers: append(delivers(1920, 1080, 30, picture.MJPEG), delivers(1280, 720, 30, picture.MJPEG)...),
		Power:    &Power{DrawW: factOf(fact.Est(1.5, 1, 2.5))}}},
	{Key: "phone", Label: "Phone by cable", Gear: Gear{Kind: Phone, Name: "Phone by cable", Clean: AlwaysClean,
		Ports: []Port{
			{ID: "usb", Connector: USBC, Direction: Upstream, USB: &USBPort{Speed: usb.HighSpeed, Transfer: usb.Bulk}}},
		Delivers: []Delivery{{Format: picture.H264, Width: 1920, Height: 1080, MaxRate: picture.R(30)}},
		Settings: settings("auto-power-off", "rotation-lock", "notices"), // every phone has them [practice]
		Power:    &Power{DrawW: factOf(fact.Est(3, 2, 5)), Mains: MainsYes}}},
	{Key: "slides", Label: "Second computer", Gear: Gear{Kind: Computer, Name: "Second computer", Clean: AlwaysClean,
		Ports: []Port{
			{ID: "hdmi", Connector: HDMIA, Direction: Out,
				HDMI: &HDMIPort{MaxTMDSMHz: factOf(fact.Est(hdmi.MHz14, hdmi.MHz14, hdmi.MHz20))},
				Modes: []picture.Mode{mode(1920, 1080, picture.R(60)), mode(1920, 1080, picture.R(30)),
					mode(1280, 720, picture.R(60))}}}}},
	{Key: "console", Label: "Console", Gear: Gear{Kind: Console, Name: "Console", Clean: AlwaysClean, Ports: []Port{
		{ID: "hdmi", Connector: HDMIA, Direction: Out,
			HDMI: &HDMIPort{MaxTMDSMHz: factOf(fact.Est(hdmi.MHz14, hdmi.MHz14, hdmi.MHz20))},
			Modes: []picture.Mode{mode(1920, 1080, picture.R(60)), mode(3840, 2160, picture.R(30)),
				mode(1920, 1080, f5994)}}}}},
}

// Stick is the capture device a start puts behind every HDMI source.
var Stick = Generic{Key: "stick", Label: "Capture stick", Price: 4500, Gear: Gear{Kind: Capture, Name: "Capture stick",
	Ports: []Port{
		{ID: "in", Connector: HDMIA, Direction: In,
			HDMI: &HDMIPort{MaxTMDSMHz: factOf(fact.Est(hdmi.MHz12, hdmi.MHz12, hdmi.MHz14))}, Modes: hdModes(),
			MoreModes: true},
		{ID: "usb", Connector: USBA, Direction: Upstream, USB: &USBPort{Speed: usb.Gen1,
			Transfer: usb.UnknownTransfer}}},
	Delivers: append(delivers(1920, 1080, 60, picture.YUY2, picture.NV12, picture.MJPEG),
		delivers(1280, 720, 60, picture.YUY2)...),
	Power: &Power{DrawW: factOf(fact.Est(2.5, 2, 3.5))}}}

// Computers are the kinds of computer a start offers.
var Computers = []Generic{
	{Key: "laptop", Label: "Laptop", Gear: Gear{Kind: Computer, Name: "Laptop", Class: Laptop,
		Controllers: []Controller{{ID: "usb", UplinkMBps: factOf(fact.Est(2000, 900, 3900))}},
		Ports: []Port{
			{ID: "left", Label: "left", Connector: USBA, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.UnknownSpeed}},
			{ID: "right", Label: "right", Connector: USBA, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.UnknownSpeed}},
			{ID: "left-c", Label: "left, Type-C", Connector: USBC, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.Gen2}},
			{ID: "right-c", Label: "right, Type-C", Connector: USBC, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.Gen2}}}}},
	{Key: "desktop", Label: "Desktop", Gear: Gear{Kind: Computer, Name: "Desktop", Class: DesktopClass,
		Controllers: []Controller{{ID: "usb", UplinkMBps: factOf(fact.Est(3000, 2000, 3900))}},
		Ports: []Port{
			{ID: "front-1", Label: "front 1", Connector: USBA, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.UnknownSpeed}},
			{ID: "front-2", Label: "front 2", Connector: USBA, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.UnknownSpeed}},
			{ID: "back-1", Label: "back 1", Connector: USBA, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.Gen1}},
			{ID: "back-2", Label: "back 2", Connector: USBA, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.Gen1}},
			{ID: "back-3", Label: "back 3", Connector: USBA, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.Gen1}},
			{ID: "back-4", Label: "back 4", Connector: USBA, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.Gen1}},
			{ID: "back-c", Label: "back, Type-C", Connector: USBC, Direction: Downstream, Controller: "usb",
				USB: &USBPort{Speed: usb.Gen2}}}}},
}

// PoweredHub is the hub a start adds when the computer has too few sockets: nobody owns it yet, so it is one that
// carries what hangs on it.
var PoweredHub = func() Generic {
	h := SpareHub
	h.Key, h.Label, h.Price, h.Gear.Name = "powered-hub", "Powered USB hub", 3500, "Powered USB hub"
	h.Gear.Power = &Power{SelfPowered: "yes", SupplyW: factOf(fact.Est(25, 20, 36)),
		SupplyVolts: factOf(fact.Est(12, 12, 12))}
	return h
}()

// SpareHub is a plain hub, of which nobody knows whether it has a supply.
var SpareHub = Generic{Key: "hub", Label: "USB hub", Price: 3000, Gear: Gear{Kind: Hub, Name: "USB hub", Ports: []Port{
	{ID: "up", Connector: USBA, Direction: Upstream, USB: &USBPort{Speed: usb.Gen1}},
	{ID: "p1", Label: "hub 1", Connector: USBA, Direction: Downstream, USB: &USBPort{Speed: usb.Gen1}},
	{ID: "p2", Label: "hub 2", Connector: USBA, Direction: Downstream, USB: &USBPort{Speed: usb.Gen1}},
	{ID: "p3", Label: "hub 3", Connector: USBA, Direction: Downstream, USB: &USBPort{Speed: usb.Gen1}},
	{ID: "p4", Label: "hub 4", Connector: USBA, Direction: Downstream, USB: &USBPort{Speed: usb.Gen1}}}}}
