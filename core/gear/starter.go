package gear

import (
	"eventether/core/fact"
	"eventether/core/hdmi"
	"eventether/core/picture"
	"eventether/core/sdi"
	"eventether/core/usb"
)

// watts is a draw as a planning estimate.
func watts(v, low, high float64) *Power { return &Power{DrawW: factOf(fact.Est(v, low, high))} }

func onMains(p *Power) *Power { p.Mains = MainsYes; return p }

func settings(ids ...string) (out []Setting) {
	for _, id := range ids {
		out = append(out, Setting{ID: id})
	}
	return out
}

func hdmiPort(id string, c Connector, d Direction, maxMHz float64, modes []picture.Mode) Port {
	return Port{ID: id, Connector: c, Direction: d,
		HDMI: &HDMIPort{MaxTMDSMHz: factOf(fact.Known(maxMHz, fact.Estimate))}, Modes: modes, MoreModes: true}
}

func sdiPort(id string, d Direction, link sdi.Link, level sdi.Level, modes []picture.Mode) Port {
	return Port{ID: id, Connector: BNC, Direction: d, SDI: &SDIPort{Link: link, Level: level}, Modes: modes,
		MoreModes: true}
}

func usbUp(c Connector, s usb.Speed, t usb.Transfer) Port {
	return Port{ID: "usb", Connector: c, Direction: Upstream, USB: &USBPort{Speed: s, Transfer: t}}
}

// named labels a port.
func (p Port) named(label string) Port { p.Label = label; return p }

// scaled marks an input that scales what comes in.
func (p Port) scaled() Port { p.Scaler = true; return p }

// loop marks an output that passes on what comes in at another port.
func (p Port) loop(of string) Port { p.LoopOf = of; return p }

func interlaced(w, h int, r picture.Rate) picture.Mode {
	return picture.Mode{Width: w, Height: h, Rate: r, Interlaced: true}
}

// Starter is the shelf a user begins with: made-up, typical things of every kind. All figures are [estimate]s with wide
// bounds, to be replaced by what the user's own things really do.
func Starter() []Entry {
	camcorderModes := append([]picture.Mode{interlaced(1920, 1080, picture.R(25)), interlaced(1920, 1080, f2997)},
		hdModes()...)
	battery := func(mAh, volts float64) *BatteryPack {
		return &BatteryPack{MAh: fact.Known(mAh, fact.DataSheet), Volts: fact.Known(volts, fact.DataSheet),
			UsableShare: factOf(DefaultUsable)}
	}
	gears := []struct {
		id    string
		price Amount
		gear  Gear
	}{
		{"mirrorless-camera", 65000, Gear{Kind: Camera, Name: "Mirrorless camera", Clean: AfterSetting,
			Ports: []Port{hdmiPort("hdmi", HDMID, Out, hdmi.MHz14, uhdModes()),
				usbUp(USBC, usb.HighSpeed, usb.Isochronous)},
			Delivers: delivers(1280, 720, 30, picture.MJPEG), USBWay: "webcam", Driver: "none",
			Settings: append(settings("auto-power-off", "output-size", "heat-limit", "movie-mode", "exposure"),
				Setting{ID: "phone-link", As: "off"}, Setting{ID: "usb-remote", As: "off", Want: "off",
					Excludes: []string{"phone-link"}}),
			Standby:            &Standby{AfterMinutes: factOf(fact.Est(5, 1, 30)), Does: "black"},
			RecordLimitMinutes: factOf(fact.Est(29.98, 29.98, 240)),
			Power: &Power{DrawW: factOf(fact.Est(6, 4, 9)), Battery: battery(1080, 7.2),
				Mains: MainsDummy}}},
		{"older-compact-camera", 22000, Gear{Kind: Camera, Name: "Older compact camera", Clean: NeverClean,
			Ports: []Port{hdmiPort("hdmi", HDMID, Out, hdmi.MHz12, []picture.Mode{interlaced(1920, 1080, f2997),
				interlaced(1920, 1080, picture.R(25))})},
			Power: &Power{DrawW: factOf(fact.Est(4, 3, 6)), Battery: battery(1000, 3.6), Mains: MainsNo}}},
		{"camcorder", 45000, Gear{Kind: Camera, Name: "Camcorder", Clean: AfterSetting,
			Ports:    []Port{hdmiPort("hdmi", HDMIC, Out, hdmi.MHz14, camcorderModes)},
			Settings: settings("auto-power-off", "output-size"), Standby: &Standby{Does: "unknown"},
			Power: &Power{DrawW: factOf(fact.Est(4, 3, 6)), Battery: battery(2500, 7.4), Mains: MainsYes}}},
		{"studio-camera", 120000, Gear{Kind: Camera, Name: "Studio camera with SDI", Clean: AlwaysClean,
			Ports: []Port{sdiPort("sdi", Out, sdi.ThreeG, sdi.LevelA, hdModes()),
				hdmiPort("hdmi", HDMIA, Out, hdmi.MHz14, hdModes())},
			Power: onMains(watts(12, 8, 18))}},
		{"action-camera", 30000, Gear{Kind: Camera, Name: "Action camera", Clean: UnknownClean,
			Ports: []Port{usbUp(USBC, usb.HighSpeed, usb.Isochronous)}, Delivers: delivers(1920, 1080, 30,
				picture.MJPEG), USBWay: "webcam", Driver: "unknown",
			Standby: &Standby{Does: "unknown"}, Power: &Power{DrawW: factOf(fact.Est(4, 2, 6)),
				Battery: battery(1700, 3.85), Mains: MainsYes}}},
		{"phone-by-cable", 0, Gear{Kind: Phone, Name: "Phone by cable", Clean: AfterSetting, Turns: true,
			Ports: []Port{usbUp(USBC, usb.HighSpeed, usb.Bulk)}, Delivers: delivers(1920, 1080, 30, picture.H264),
			Driver:   "software",
			Settings: settings("rotation-lock", "own-controls", "notices", "auto-power-off"),
			Power:    &Power{DrawW: factOf(fact.Est(3, 2, 5)), Battery: battery(4500, 3.85), Mains: MainsYes}}},
		{"phone-by-wifi", 0, Gear{Kind: Phone, Name: "Phone by network", Clean: AfterSetting, Turns: true,
			Ports: []Port{{ID: "lan", Connector: LAN, Direction: Out}}, Settings: settings("rotation-lock",
				"own-controls", "notices"), Driver: "software",
			Power: &Power{DrawW: factOf(fact.Est(4, 3, 6)), Battery: battery(4500, 3.85), Mains: MainsYes},
			Notes: "By Wi-Fi it adds delay and risk; a cable is preferred."}},
		{"webcam", 6000, Gear{Kind: Webcam, Name: "Webcam", Clean: AlwaysClean,
			Ports: []Port{usbUp(USBA, usb.HighSpeed, usb.Isochronous)},
			Delivers: append(delivers(1920, 1080, 30, picture.MJPEG), delivers(1280, 720, 30, picture.MJPEG,
				picture.YUY2)...), Driver: "none", OpensSmall: true,
			Power: watts(1.5, 1, 2.5)}},
		{"desktop-computer", 90000, Gear{Kind: Computer, Name: Computers[1].Gear.Name,
			Controllers: Computers[1].Gear.Controllers, Ports: Computers[1].Gear.Ports}},
		{"laptop-computer", 80000, Gear{Kind: Computer, Name: Computers[0].Gear.Name,
			Controllers: Computers[0].Gear.Controllers, Ports: Computers[0].Gear.Ports}},
		{"slides-computer", 0, Gear{Kind: Computer, Name: "Second computer for slides", Clean: AlwaysClean,
			Ports: []Port{hdmiPort("hdmi", HDMIA, Out, hdmi.MHz14, []picture.Mode{mode(1920, 1080, picture.R(60)),
				mode(1920, 1080, picture.R(30)), mode(2560, 1440, picture.NewRate(241_500_000, 2720*1481)),
				mode(3440, 1440, picture.NewRate(319_750_000, 3600*1481)), mode(1280, 720, picture.R(60))})}}},
		{"console", 40000, Gear{Kind: Console, Name: "Games console", Clean: AlwaysClean, Protected: UntilTurnedOff,
			Ports: []Port{hdmiPort("hdmi", HDMIA, Out, hdmi.MHz20,
				append([]picture.Mode{mode(3840, 2160, picture.R(60)), mode(3840, 2160, f5994)}, hdModes()...))},
			Power: onMains(watts(120, 60, 200)), Settings: settings("pcm-sound", "hdr-output")}},
		{"disc-player", 12000, Gear{Kind: Player, Name: "Disc player", Clean: AfterSetting, Protected: AlwaysProtected,
			Ports: []Port{hdmiPort("hdmi", HDMIA, Out, hdmi.MHz14, hdModes())}, Power: onMains(watts(15, 8, 25)),
			Settings: settings("pcm-sound")}},
		{"usb2-stick", 1500, Gear{Kind: Capture, Name: "USB 2 capture stick", OddSizes: picture.UnknownHow,
			Driver: "none", OpensSmall: true,
			Ports: []Port{hdmiPort("in", HDMIA, In, hdmi.MHz14, hdModes()),
				usbUp(USBA, usb.HighSpeed, usb.Isochronous)},
			Delivers: append(delivers(1920, 1080, 30, picture.MJPEG), delivers(1280, 720, 60, picture.MJPEG)...),
			Power:    watts(1.5, 1, 2.5)}},
		{"full-hd-stick", 4500, withExtras(StrongerCapture[0].Gear)},
		{"4k-stick", 12000, withExtras(StrongerCapture[1].Gear)},
		{"loop-box", 20000, Gear{Kind: Capture, Name: "Capture box with loop-through", OddSizes: picture.Box,
			Driver: "driver",
			Ports: []Port{hdmiPort("in", HDMIA, In, hdmi.MHz20,
				append([]picture.Mode{mode(3840, 2160, f5994), mode(3840, 2160, picture.R(60))}, uhdModes()...)),
				hdmiPort("loop", HDMIA, Out, hdmi.MHz20, nil).loop("in").named("loop-through"),
				usbUp(USBC, usb.Gen1, usb.Bulk)},
			Delivers: append(delivers(1920, 1080, 60, picture.YUY2, picture.NV12),
				delivers(3840, 2160, 30, picture.NV12)...), Power: watts(4, 3, 6)}},
		{"sdi-box", SDIBox.Price, SDIBox.Gear},
		{"four-input-switcher", 35000, Gear{Kind: Switcher, Name: "Four-input switcher", Overview: "yes",
			Driver: "none", ListedAs: "USB video device",
			Ports: []Port{hdmiPort("in-1", HDMIA, In, hdmi.MHz12, hdModes()).scaled().named("input 1"),
				hdmiPort("in-2", HDMIA, In, hdmi.MHz12, hdModes()).scaled().named("input 2"),
				hdmiPort("in-3", HDMIA, In, hdmi.MHz12, hdModes()).scaled().named("input 3"),
				hdmiPort("in-4", HDMIA, In, hdmi.MHz12, hdModes()).scaled().named("input 4"),
				hdmiPort("out", HDMIA, Out, hdmi.MHz12, hdModes()).named("monitor out"),
				usbUp(USBC, usb.Gen1, usb.Bulk)},
			Delivers: append(delivers(1920, 1080, 60, picture.MJPEG), delivers(1920, 1080, 30, picture.MJPEG)...),
			Power:    onMains(watts(18, 10, 25))}},
		{"sdi-switcher", 60000, Gear{Kind: Switcher, Name: "SDI switcher", Overview: "yes",
			Ports: []Port{sdiPort("in-1", In, sdi.ThreeG, sdi.BothLevels, hdModes()).named("input 1"),
				sdiPort("in-2", In, sdi.ThreeG, sdi.BothLevels, hdModes()).named("input 2"),
				sdiPort("in-3", In, sdi.ThreeG, sdi.BothLevels, hdModes()).named("input 3"),
				sdiPort("in-4", In, sdi.ThreeG, sdi.BothLevels, hdModes()).named("input 4"),
				sdiPort("out", Out, sdi.ThreeG, sdi.LevelA, hdModes()).named("programme out")},
			Power: onMains(watts(20, 12, 30))}},
		{ToSDI.Key, ToSDI.Price, ToSDI.Gear},
		{FromSDI.Key, FromSDI.Price, FromSDI.Gear},
		{"splitter", 2500, Gear{Kind: Splitter, Name: "HDMI splitter, one to two",
			Ports: []Port{hdmiPort("in", HDMIA, In, hdmi.MHz20, nil), hdmiPort("out-1", HDMIA, Out, hdmi.MHz20, nil),
				hdmiPort("out-2", HDMIA, Out, hdmi.MHz20, nil)}, Power: onMains(watts(3, 2, 5))}},
		{"four-port-hub", SpareHub.Price, SpareHub.Gear},
		{"dock", 18000, Gear{Kind: Dock, Name: "Dock with a controller of its own",
			Controllers: []Controller{{ID: "dock", UplinkMBps: factOf(fact.Est(2000, 1000, 2750))}}, Ports: []Port{
				{ID: "up", Connector: USBC, Direction: Upstream, USB: &USBPort{Speed: usb.Tunnel}},
				{ID: "d1", Label: "dock 1", Connector: USBA, Direction: Downstream, Controller: "dock",
					USB: &USBPort{Speed: usb.Gen2}},
				{ID: "d2", Label: "dock 2", Connector: USBA, Direction: Downstream, Controller: "dock",
					USB: &USBPort{Speed: usb.Gen2}},
				{ID: "d3", Label: "dock 3", Connector: USBA, Direction: Downstream, Controller: "dock",
					USB: &USBPort{Speed: usb.Gen2}}}, Power: onMains(watts(10, 6, 15))}},
		{"four-input-card", 30000, Gear{Kind: Card, Name: "Four-input capture card", Driver: "driver",
			Ports: []Port{hdmiPort("in-1", HDMIA, In, hdmi.MHz14, hdModes()).named("input 1"),
				hdmiPort("in-2", HDMIA, In, hdmi.MHz14, hdModes()).named("input 2"),
				hdmiPort("in-3", HDMIA, In, hdmi.MHz14, hdModes()).named("input 3"),
				hdmiPort("in-4", HDMIA, In, hdmi.MHz14, hdModes()).named("input 4"), {ID: "slot", Connector: PCIe,
					Direction: Upstream}},
			Delivers: delivers(1920, 1080, 60, picture.YUY2, picture.NV12), Power: watts(12, 8, 20)}},
		{"fast-drive", 9000, Gear{Kind: Drive, Name: "Fast drive", FreeGB: factOf(fact.Est(900, 100, 1000)),
			WriteMBps: factOf(fact.Est(450, 200, 900)), Power: watts(4.5, 2, 6)}},
		{"field-recorder", 40000, Gear{Kind: Recorder, Name: "Picture recorder",
			Ports: []Port{hdmiPort("in", HDMIA, In, hdmi.MHz14, uhdModes()),
				hdmiPort("out", HDMIA, Out, hdmi.MHz14, nil).loop("in")}, FreeGB: factOf(fact.Est(400, 100, 1000)),
			WriteMBps: factOf(fact.Est(300, 150, 500)), Power: onMains(watts(15, 8, 20))}},
		{"monitor", 15000, Gear{Kind: Monitor, Name: "Monitor",
			Ports: []Port{hdmiPort("in", HDMIA, In, hdmi.MHz14, hdModes())}, Power: onMains(watts(25, 15, 40))}},
		{"usb-microphone", 8000, Gear{Kind: Microphone, Name: "USB microphone",
			Ports: []Port{usbUp(USBA, usb.HighSpeed, usb.Isochronous)}, Power: watts(1, 0.5, 2),
			Sound: &SoundSheet{Microphone: "condenser", Needs: "none", Gives: "digital", KHz: new(48.0)}}},
		{"audio-interface", 14000, Gear{Kind: AudioInterface, Name: "Audio interface",
			Ports: []Port{usbUp(USBB, usb.HighSpeed, usb.Isochronous)}, Power: watts(2.5, 1.5, 4),
			Sound: &SoundSheet{Takes: "preamplifier", Socket: "xlr", Feeds: "phantom", Gives: "digital",
				KHz: new(48.0)}}},
		{"sound-mixer", 25000, Gear{Kind: Mixer, Name: "Sound mixer",
			Ports: []Port{usbUp(USBB, usb.HighSpeed, usb.Isochronous)}, Power: onMains(watts(20, 10, 35)),
			Sound: &SoundSheet{Takes: "preamplifier", Socket: "xlr", Feeds: "phantom", Gives: "professional-line",
				Balanced: "yes"}}},
		{"usb-headset", 6000, Gear{Kind: Microphone, Name: "USB headset",
			Ports: []Port{usbUp(USBA, usb.HighSpeed, usb.Isochronous)}, Power: watts(0.5, 0.3, 1),
			Sound: &SoundSheet{Microphone: "headset", Needs: "none", Gives: "digital", KHz: new(48.0)}}},
		{"hand-microphone", 10000, Gear{Kind: Microphone, Name: "Hand-held microphone",
			Sound: &SoundSheet{Microphone: "dynamic", Needs: "none", Gives: "microphone", Balanced: "yes"}}},
		{"lapel-microphone", 4000, Gear{Kind: Microphone, Name: "Lapel microphone on a lead",
			Sound: &SoundSheet{Microphone: "lavalier", Needs: "plug-in", Gives: "microphone", Balanced: "no"}}},
		{"wireless-lapel", 20000, Gear{Kind: WirelessSound, Name: "Wireless lapel set",
			Sound: &SoundSheet{Microphone: "lavalier", Needs: "battery", Gives: "consumer-line", Balanced: "no",
				DelayMs: factOf(fact.Est(6, 2, 20))}}},
		{"wireless-microphone", 20000, Gear{Kind: WirelessSound, Name: "Wireless microphone",
			Power: &Power{DrawW: factOf(fact.Est(0.6, 0.4, 1)), Battery: battery(300, 3.7)}}},
		{"spare-battery", 4000, Gear{Kind: Battery, Name: "Spare camera battery",
			Power: &Power{Battery: battery(1080, 7.2)}}},
		{"power-bank", 5000, Gear{Kind: PowerBank, Name: "Power bank",
			Ports: []Port{{ID: "out", Connector: USBC, Direction: Downstream,
				AllowsMA: factOf(fact.Est(3000, 1500, 3000))}}, Power: &Power{Battery: battery(20000, 3.65)}}},
		{"usb-supply", 3000, Gear{Kind: Supply, Name: "USB supply, 60 W",
			Ports: []Port{{ID: "out", Connector: USBC, Direction: Downstream,
				AllowsMA: factOf(fact.Known(3000, fact.DataSheet))}}}},
		{"small-ups", 15000, Gear{Kind: UPS, Name: "Small UPS", Power: watts(10, 5, 20)}},
		{"mains-strip", 1500, Gear{Kind: Strip, Name: "Mains strip, six sockets"}},
		{"led-panel", 9000, Gear{Kind: Lamp, Name: "LED panel", Power: onMains(watts(30, 15, 60)),
			Notes: "Dimmed LED lamps flicker at a rate of their own: look at the picture."}},
	}
	out := make([]Entry, len(gears))
	for i, g := range gears {
		out[i] = Entry{ID: g.id, Gear: g.gear}
		if g.price > 0 {
			out[i].Price = &Money{Amount: g.price, Currency: "EUR"}
		}
	}
	return append(out, MoreKinds()...)
}

func withExtras(g Gear) Gear {
	g.Driver, g.OddSizes, g.ListedAs = "none", picture.UnknownHow, "USB video device"
	return g
}
