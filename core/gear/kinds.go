package gear

import (
	"eventether/core/fact"
	"eventether/core/hdmi"
	"eventether/core/pcie"
	"eventether/core/picture"
	"eventether/core/usb"
)

// MoreKinds are the general kinds that came to the shelf later. All figures are [estimate]s from what such things are
// sold as, with the reason for their bounds in the notes.
func MoreKinds() []Entry {
	battery := func(mAh, low, high, volts float64) *BatteryPack {
		return &BatteryPack{MAh: fact.Est(mAh, low, high), Volts: fact.Known(volts, fact.DataSheet),
			UsableShare: factOf(DefaultUsable)}
	}
	socket := func(id, label string, c Connector, s usb.Speed, ctl string) Port {
		return Port{ID: id, Label: label, Connector: c, Direction: Downstream, Controller: ctl, USB: &USBPort{Speed: s}}
	}
	controllers := func(value, low, high float64) []Controller {
		return []Controller{{ID: "usb", UplinkMBps: factOf(fact.Est(value, low, high))}}
	}
	fullHDMI := hdmiPort("hdmi", HDMIA, Out, hdmi.MHz20,
		append([]picture.Mode{mode(3840, 2160, f5994), mode(3840, 2160, picture.R(50))}, uhdModes()...))
	takes4K60 := append([]picture.Mode{mode(3840, 2160, f5994), mode(3840, 2160, picture.R(60)),
		mode(3840, 2160, picture.R(50))}, uhdModes()...)
	lan := Port{ID: "lan", Label: "network", Connector: LAN, Direction: Downstream}
	return []Entry{
		kind("built-in-webcam", 0, Gear{Kind: Webcam, Name: "Built-in webcam", Clean: AlwaysClean, Driver: "none",
			Ports: []Port{{ID: "usb", Connector: Internal, Direction: Upstream, USB: &USBPort{Speed: usb.HighSpeed,
				Transfer: usb.Isochronous}}},
			Delivers: append(delivers(1280, 720, 30, picture.MJPEG, picture.YUY2),
				delivers(1920, 1080, 30, picture.MJPEG)...),
			Power: watts(1, 0.5, 2),
			Notes: "Wired inside the laptop on a USB 2 bus of its own or shared with a card reader. Older ones give 720 lines at most."}),
		kind("camera-full-hdmi", 140000, Gear{Kind: Camera, Name: "Camera with full-size HDMI", Clean: AlwaysClean,
			Ports:    []Port{fullHDMI, usbUp(USBC, usb.Gen1, usb.UnknownTransfer)},
			Delivers: delivers(1920, 1080, 60, picture.MJPEG), USBWay: "webcam", Driver: "none",
			Settings: settings("auto-power-off", "output-size", "exposure"),
			Standby:  &Standby{Does: "nothing"}, Power: &Power{DrawW: factOf(fact.Est(9, 6, 14)),
				Battery: battery(2280, 2000, 3500, 7.2), Mains: MainsDummy},
			Notes: "Cameras made for video have a full-size socket, clean as they come, up to 4K at 60. Draw is higher while they record inside."}),
		kind("camera-usb-1080", 90000, Gear{Kind: Camera, Name: "Camera whose USB gives 1080p60", Clean: AfterSetting,
			Ports: []Port{hdmiPort("hdmi", HDMID, Out, hdmi.MHz14, uhdModes()),
				usbUp(USBC, usb.Gen1, usb.Isochronous)},
			Delivers: append(delivers(1920, 1080, 60, picture.MJPEG), delivers(1280, 720, 60, picture.MJPEG)...),
			USBWay:   "webcam", Driver: "none", Settings: settings("auto-power-off", "exposure"),
			Power: &Power{DrawW: factOf(fact.Est(6, 4, 9)), Battery: battery(2280, 1200, 2400, 7.2), Mains: MainsYes},
			Notes: "It is a webcam without more software and charges by the same socket; many fall back to 720 lines on a USB 2 lead."}),
		kind("camera-usb-4k", 180000, Gear{Kind: Camera, Name: "Camera whose USB gives 4K", Clean: AfterSetting,
			Ports: []Port{hdmiPort("hdmi", HDMIA, Out, hdmi.MHz20, uhdModes()),
				usbUp(USBC, usb.Gen2, usb.UnknownTransfer)},
			Delivers: append(delivers(3840, 2160, 30, picture.MJPEG), delivers(1920, 1080, 60, picture.MJPEG)...),
			USBWay:   "webcam", Driver: "none", Settings: settings("auto-power-off", "exposure"),
			Power: &Power{DrawW: factOf(fact.Est(8, 5, 12)), Battery: battery(2280, 1800, 2600, 7.2), Mains: MainsYes},
			Notes: "4K by USB is compressed in the camera; whether its stream reserves bandwidth differs by maker."}),
		kind("network-camera", 80000, Gear{Kind: Camera, Name: "Network camera, pan and tilt", Clean: AlwaysClean,
			Ports: []Port{hdmiPort("hdmi", HDMIA, Out, hdmi.MHz14, hdModes()), sdiPort("sdi", Out, "3G", "A",
				hdModes()), {ID: "lan", Connector: LAN, Direction: Out}},
			Power: onMains(watts(18, 10, 30)), Settings: settings("exposure"),
			Notes: "Fed by its network lead or a supply; 10 W still, up to 30 W while it moves and heats its housing."}),
		kind("action-camera-hdmi", 40000, Gear{Kind: Camera, Name: "Action camera with HDMI", Clean: UnknownClean,
			Ports: []Port{hdmiPort("hdmi", HDMID, Out, hdmi.MHz14, hdModes()),
				usbUp(USBC, usb.HighSpeed, usb.Isochronous)},
			Delivers: delivers(1920, 1080, 30, picture.MJPEG), USBWay: "webcam", Driver: "unknown",
			Settings: settings("auto-power-off"), Standby: &Standby{Does: "unknown"},
			Power: &Power{DrawW: factOf(fact.Est(5, 3, 7)), Battery: battery(1720, 1100, 1900, 3.85), Mains: MainsYes},
			Notes: "Sealed and small: heat stops many within the hour in still air. HDMI is by the camera itself or by an adapter frame."}),
		kind("card-4k60", 35000, Gear{Kind: Card, Name: "4K60 capture card, four lanes", Driver: "driver",
			OddSizes: picture.Stretch,
			Ports: []Port{hdmiPort("in", HDMIA, In, hdmi.MHz20, takes4K60),
				hdmiPort("loop", HDMIA, Out, hdmi.MHz20, nil).loop("in").named("loop-through"),
				{ID: "slot", Connector: PCIe, Direction: Upstream, Slot: laneSlot(2, 4)}},
			Delivers: append(delivers(3840, 2160, 60, picture.NV12, picture.YUY2),
				delivers(1920, 1080, 60, picture.YUY2, picture.NV12)...), Power: watts(9, 6, 15),
			Notes: "PCI Express 2.0 on four lanes carries about 1.6 GB/s: 4K60 at 4:2:2 is 995 MB/s."}),
		kind("card-m2", 28000, Gear{Kind: Card, Name: "M.2 capture card", Driver: "driver",
			OddSizes: picture.UnknownHow,
			Ports: []Port{hdmiPort("in", HDMIA, In, hdmi.MHz14, uhdModes()), {ID: "slot", Connector: PCIe,
				Direction: Upstream, Slot: laneSlot(2, 4)}},
			Delivers: append(delivers(3840, 2160, 30, picture.NV12), delivers(1920, 1080, 60, picture.YUY2,
				picture.NV12)...), Power: watts(5, 3, 8),
			Notes: "It takes the place of a drive, and often its cooling too."}),
		kind("powered-usb-hub", 3500, poweredHub()),
		kind("usb-drive", 7000, Gear{Kind: Drive, Name: "USB drive", Ports: []Port{usbUp(USBC, usb.Gen2, usb.Bulk)},
			FileSystem: "exfat", FreeGB: factOf(fact.Est(900, 100, 2000)), WriteMBps: factOf(fact.Est(300, 60, 900)),
			Power: watts(4, 2, 8),
			Notes: "Solid-state as a rule; small ones write at 60 MB/s once their cache is full."}),
		kind("network-adapter", 2500, Gear{Kind: Dock, Name: "Network adapter",
			Ports: []Port{usbUp(USBC, usb.Gen1, usb.Bulk), lan}, Power: watts(2, 1, 3), Driver: "none",
			Notes: "One gigabit by USB 3; it stands in the way of nothing a camera needs but its socket."}),
		kind("small-laptop", 60000, Gear{Kind: Computer, Name: "Small laptop", Class: SmallLaptop,
			Controllers: controllers(1500, 450, 2500),
			Ports: []Port{socket("left-c", "left, Type-C", USBC, usb.Gen1, "usb"), socket("right-c", "right, Type-C",
				USBC, usb.Gen1, "usb"), socket("right", "right", USBA, usb.Gen1, "usb")},
			Power: &Power{DrawW: factOf(fact.Est(28, 20, 45)), Battery: battery(4500, 3000, 6000, 11.5),
				Mains: MainsYes},
			Notes: "Few sockets on one controller; cooled for short work. While it codes it draws 20 W at least."}),
		kind("large-laptop", 160000, Gear{Kind: Computer, Name: "Large laptop", Class: GoodLaptop,
			Controllers: controllers(2500, 900, 3900),
			Ports: []Port{socket("left", "left", USBA, usb.Gen1, "usb"), socket("left-2", "left, second", USBA,
				usb.Gen2, "usb"), socket("right", "right", USBA, usb.Gen1, "usb"), socket("back-c", "back, Type-C",
				USBC, usb.Tunnel, "usb"), socket("left-c", "left, Type-C", USBC, usb.Gen2, "usb"), lan,
				{ID: "hdmi", Label: "picture out", Connector: HDMIA, Direction: Out,
					HDMI: &HDMIPort{MaxTMDSMHz: factOf(fact.Known(hdmi.MHz20, fact.Estimate))}}},
			Power: &Power{DrawW: factOf(fact.Est(60, 20, 180)), Battery: battery(6000, 4500, 8700, 11.5),
				Mains: MainsYes},
			Notes: "A graphics processor of its own; on battery it codes at half its speed or less."}),
		kind("strong-desktop", 220000, Gear{Kind: Computer, Name: "Desktop with strong graphics", Class: LargeDesktop,
			Controllers: controllers(3000, 2000, 3900),
			Ports: []Port{socket("front-1", "front 1", USBA, usb.Gen1, "usb"), socket("front-2", "front 2", USBA,
				usb.Gen1, "usb"), socket("front-c", "front, Type-C", USBC, usb.Gen2, "usb"),
				socket("back-1", "back 1", USBA, usb.Gen1, "usb"), socket("back-2", "back 2", USBA, usb.Gen1, "usb"),
				socket("back-3", "back 3", USBA, usb.Gen2, "usb"), socket("back-4", "back 4", USBA, usb.Gen2, "usb"),
				socket("back-c", "back, Type-C", USBC, usb.Gen2x2, "usb"), lan,
				slot("slot-1", "slot 1, for the graphics card's neighbour", 4, 3, 1),
				slot("slot-2", "slot 2", 4, 3, 2), slot("slot-3", "slot 3", 1, 3, 3)},
			Power: onMains(watts(200, 80, 500)), Notes: "80 W at rest, 500 W with graphics and processor busy."}),
		kind("games-computer", 0, Gear{Kind: Computer, Name: "Second computer for games", Clean: AlwaysClean,
			Ports: []Port{hdmiPort("hdmi", HDMIA, Out, hdmi.MHz20,
				append([]picture.Mode{mode(3840, 2160, picture.R(60)),
					mode(2560, 1440, picture.NewRate(241_500_000, 2720*1481))}, hdModes()...))},
			Power: onMains(watts(300, 120, 700)),
			Notes: "It plays, and gives its picture to the computer that sends."}),
		kind("interface-two", 11000, Gear{Kind: AudioInterface, Name: "Interface with two inputs",
			Ports: []Port{usbUp(USBC, usb.HighSpeed, usb.Isochronous)}, Power: watts(2.5, 1.5, 4),
			Sound: &SoundSheet{Inputs: factOf(fact.Exactly(2)), Takes: "preamplifier", Socket: "xlr", Feeds: "phantom",
				Gives: "digital", KHz: new(48.0)}, Notes: "Two preamplifiers, fed by its USB socket."}),
		kind("interface-four", 26000, Gear{Kind: AudioInterface, Name: "Interface with four inputs",
			Ports: []Port{usbUp(USBC, usb.HighSpeed, usb.Isochronous)}, Power: onMains(watts(7, 4, 12)),
			Sound: &SoundSheet{Inputs: factOf(fact.Exactly(4)), Takes: "preamplifier", Socket: "xlr", Feeds: "phantom",
				Gives: "digital", KHz: new(48.0)},
			Notes: "Four preamplifiers; phantom power on all of them wants a supply or a Type-C socket."}),
		kind("sound-recorder", 20000, Gear{Kind: Recorder, Name: "Field recorder",
			Ports: []Port{usbUp(USBC, usb.HighSpeed, usb.Isochronous)}, FreeGB: factOf(fact.Est(60, 8, 500)),
			WriteMBps: factOf(fact.Est(10, 5, 30)),
			Sound: &SoundSheet{Takes: "preamplifier", Socket: "xlr", Feeds: "phantom", Gives: "consumer-line",
				KHz: new(48.0)}, Power: &Power{DrawW: factOf(fact.Est(2, 1, 4)), Battery: battery(2400, 1500, 5000, 3),
				Mains: MainsYes},
			Notes: "It keeps a track of its own by a clock of its own, and is an interface by USB as a rule."}),
		kind("keyboard", 2000, Gear{Kind: KeyPad, Name: "Keyboard", Driver: "none",
			Ports: []Port{usbUp(USBA, usb.HighSpeed, usb.Bulk)}, Power: watts(0.5, 0.1, 1),
			Notes: "It takes a socket like everything else; by air a receiver takes it."}),
		kind("key-pad", 12000, Gear{Kind: KeyPad, Name: "Pad of keys", Driver: "software",
			Ports: []Port{usbUp(USBA, usb.HighSpeed, usb.Bulk)}, Power: watts(1.5, 0.5, 2.5),
			Notes: "Keys with small pictures want a program of their own running; 0.5 A is what the largest ask for."}),
		kind("foot-pedal", 7000, Gear{Kind: KeyPad, Name: "Foot pedal", Driver: "none",
			Ports: []Port{usbUp(USBA, usb.HighSpeed, usb.Bulk)}, Power: watts(0.5, 0.1, 0.5),
			Notes: "It counts as a keyboard with one to three keys."}),
		kind("in-ear-monitor", 15000, Gear{Kind: WirelessSound, Name: "In-ear monitor",
			Sound: &SoundSheet{Takes: "line", Socket: "jack-3.5", DelayMs: factOf(fact.Est(4, 1, 20))},
			Power: &Power{DrawW: factOf(fact.Est(0.4, 0.2, 0.8)), Battery: battery(1000, 600, 2000, 3)},
			Notes: "What a speaker hears by; digital ones add up to 20 ms."}),
	}
}

// kind is an entry of the shelf nobody owns yet.
func kind(id string, price Amount, g Gear) Entry {
	e := Entry{ID: id, Gear: g}
	if price > 0 {
		e.Price = &Money{Amount: price, Currency: "EUR"}
	}
	return e
}

func poweredHub() Gear {
	g := PoweredHub.Gear
	g.Notes = "Its supply carries what hangs on it; 20 to 36 W are sold with four sockets."
	return g
}

func laneSlot(generation, lanes int) *Slot {
	return &Slot{Link: pcie.Link{Generation: generation, Lanes: lanes}}
}

// slot is a slot of a computer as long as it has lanes.
func slot(id, label string, lanes, generation, place int) Port {
	s := laneSlot(generation, lanes)
	s.Size, s.Place = lanes, place
	return Port{ID: id, Label: label, Connector: PCIe, Direction: Downstream, Slot: s}
}
