package core_test

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/limit"
	"eventether/core/picture"
	"eventether/core/rig"
	"eventether/core/rig/rigtest"
	"eventether/core/usb"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

// told is a small rig as somebody would tell it, and what a good technician would answer: whether it holds, what is
// wrong with it, the cheapest cure, what to ask. Common practice, in our own words, from the chapters named; what is
// compared are states, rules, moves and questions, never the wording.
type told struct {
	tells   string
	chapter string
	rig     func() *rig.Rig
	edits   []rig.Edit
	state   limit.State
	wrong   string // a rule, with the state of its finding: "cadence kinked"; empty for nothing
	cure    string // how the id of a move of the cure begins; "-" for no cure
	fix     string // how the id of a fix of the finding begins, or of what makes it less
	asks    string // a part of the path of a question
}

var (
	rate2997 = picture.NewRate(30000, 1001)
	rate5994 = picture.NewRate(60000, 1001)
)

func at(w, h int, r picture.Rate) *picture.Mode { return &picture.Mode{Width: w, Height: h, Rate: r} }

// like is the plain rig, spoilt: one camera, one stick, one computer, all of it known.
func like(spoil func(*rig.Rig)) func() *rig.Rig {
	return func() *rig.Rig {
		r := rigtest.Clone(rigtest.Plain())
		spoil(r)
		return r
	}
}

// voiced is the plain rig with one voice, by a lapel microphone: near, clapped, no loudspeakers.
func voiced(spoil func(*rig.Sound)) func() *rig.Rig {
	return like(func(r *rig.Rig) {
		near, clapped := fact.Exactly(0.2), fact.Exactly(10)
		thing := func(id string, kind gear.Kind, s gear.SoundSheet) {
			r.Items = append(r.Items, rig.Item{ID: id, Label: id, Gear: gear.Gear{Kind: kind, Name: id, Sound: &s}})
		}
		thing("lapel", gear.Microphone, gear.SoundSheet{Microphone: "lavalier", Needs: "battery", Gives: "digital"})
		thing("balanced", gear.Mixer, gear.SoundSheet{Takes: "digital", Gives: "consumer-line", Balanced: "yes"})
		thing("small", gear.AudioInterface, gear.SoundSheet{Takes: "line", Socket: "jack-3.5", Gives: "digital"})
		r.Sound = &rig.Sound{Loudspeakers: "no", Paths: []rig.SoundPath{{Voice: "Ida", From: "lapel", On: "air",
			DistanceM: &near, OffsetMs: &clapped}}}
		spoil(r.Sound)
	})
}

func asIs() *rig.Rig { return rigtest.Clone(rigtest.Plain()) }

// answers is a rig from three answers.
func answers(fps int, minutes float64, sources ...rig.StartSource) func() *rig.Rig {
	return func() *rig.Rig {
		r, err := rig.New(rig.Start{Sources: sources, Out: rig.StartOut{Height: 1080, Fps: fps, Minutes: minutes},
			Computer: "laptop"})
		if err != nil {
			panic(err)
		}
		return r
	}
}

func metres(lead string, m float64) rig.Edit {
	f := fact.Exactly(m)
	return rig.Edit{Do: "lead", Lead: lead, LengthM: &f}
}

func mode(m *picture.Mode) rig.Edit {
	return rig.Edit{Do: "mode", Item: "cam-0", Port: "hdmi", Mode: m}
}

func word(path, w string) rig.Edit { return rig.Edit{Do: "word", Path: path, Word: w} }

func programme(r picture.Rate, motion string) func(*rig.Rig) {
	return func(x *rig.Rig) { x.Show.Programme.Rate, x.Show.Motion = r, motion }
}

// battery gives the camera a battery of so many mAh at 7.2 V, and the mains or not.
func battery(mAh float64, mains gear.MainsPossible) func(*rig.Rig) {
	return func(r *rig.Rig) {
		w := fact.Exactly(6.5)
		r.Items[0].Gear.Power = &gear.Power{DrawW: &w, Mains: mains, Battery: &gear.BatteryPack{MAh: fact.Exactly(mAh),
			Volts: fact.Exactly(7.2), UsableShare: fp(0.9)}}
		r.Items[0].Set.RunsOn = "battery"
		r.Show.SetupMinutes, r.Show.RehearsalMinutes = 60, 15
	}
}

func fp(v float64) *fact.Fact { f := fact.Exactly(v); return &f }

// onHub puts two sticks with 1080p60 uncompressed on one hub, with or without a socket to move to.
func onHub(spare int) func() *rig.Rig {
	return func() *rig.Rig {
		r := rigtest.Clone(rigtest.Feeds(2))
		for i := range 2 {
			cam, stick := &r.Items[2*i], &r.Items[2*i+1]
			cam.Gear.Clean, cam.Gear.Power, cam.Gear.Standby = gear.AlwaysClean, nil, &gear.Standby{Does: "nothing"}
			cam.Set.Output["hdmi"], cam.Set.RunsOn = *at(1920, 1080, rate5994), "mains"
			cam.Gear.Power = &gear.Power{Mains: gear.MainsYes, DrawW: fp(5)}
			stick.Gear.Ports[1].USB = &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}
			stick.Set.Deliver["usb"] = rig.Deliver{Format: picture.YUY2, Width: 1920, Height: 1080}
			r.Leads[2*i+1].To = fmt.Sprintf("hub.p%d", i+1)
		}
		r.Show.Programme.Rate = rate5994
		hub := gear.PoweredHub.Gear
		r.Items = append(r.Items, rig.Item{ID: "hub", Label: "Hub", Gear: hub})
		r.Leads = append(r.Leads, rig.Lead{ID: "up", From: "hub.up", To: "pc.p0", Grade: "usb-5g",
			LengthM: fact.Exactly(0.5)})
		pc := r.Item("pc")
		pc.Gear.Ports = pc.Gear.Ports[:1+spare]
		pc.Gear.Controllers[0].UplinkMBps = fp(3900)
		r.Uplink = &rig.Uplink{}
		for range 4 {
			r.Uplink.MeasuredMbps = append(r.Uplink.MeasuredMbps,
				rig.UplinkReading{Value: 50, At: "2026-09-01T19:00:00Z"})
		}
		return r
	}
}

var one, three, twelve = rig.StartSource{Kind: "camera", Count: 1}, rig.StartSource{Kind: "camera", Count: 3},
	rig.StartSource{Kind: "camera", Count: 12}

var asTold = []told{
	{"one camera on a short lead into a stick, everything looked up", "1", asIs, nil, limit.Slack, "", "-", "", ""},
	{"the camera stands sixteen metres away on an ordinary lead", "2.5", asIs, []rig.Edit{metres("h0", 16)},
		limit.Snapped, "reach snapped", "lead:h0:optical", "", ""},
	{"the camera stands a hundred and ten metres away, further than glass is sure to go", "2.6", asIs,
		[]rig.Edit{metres("h0", 110)}, limit.Snapped, "reach snapped", "coax:h0", "", ""},
	{"the camera's output is encrypted, and it has a streaming mode by USB", "2.3", like(func(r *rig.Rig) {
		c := &r.Items[0].Gear
		c.Protected = gear.AlwaysProtected
		c.Ports = append(c.Ports, gear.Port{ID: "usb", Connector: gear.USBC, Direction: gear.Upstream,
			USB: &gear.USBPort{Speed: usb.Gen1, Transfer: usb.Bulk}})
		c.Delivers = []gear.Delivery{{Format: picture.NV12, Width: 1920, Height: 1080, MaxRate: rate2997}}
		pc := &r.Item("pc").Gear
		pc.Ports = append(pc.Ports, gear.Port{ID: "c", Connector: gear.USBC, Direction: gear.Downstream,
			Controller: pc.Ports[0].Controller, USB: &gear.USBPort{Speed: usb.Gen1}})
	}), nil, limit.Snapped, "protected snapped", "by-usb:cam-0", "", ""},
	{"a stick that draws more than the weak and only socket gives, and so would any other", "4.1",
		like(func(r *rig.Rig) {
			r.Items[1].Gear.Power = &gear.Power{DrawW: fp(4)}
			pc := r.Item("pc")
			pc.Gear.Ports = pc.Gear.Ports[:1]
			pc.Gear.Ports[0].AllowsMA = fp(350)
		}), nil, limit.Snapped, "port-current snapped", "hub:u0", "", ""},
	{"a camera with a small battery on a small bank, in a field, for four hours", "4.2", like(func(r *rig.Rig) {
		battery(1080, gear.MainsNo)(r)
		r.Items[0].Gear.Power.USB, r.Items[0].Set.RunsOn, r.Items[0].PoweredBy = "runs", "usb", "bank"
		r.Items = append(r.Items, rig.Item{ID: "bank", Label: "Bank", Gear: gear.Gear{Kind: gear.PowerBank,
			Name: "Bank", Power: &gear.Power{SupplyW: fp(15),
				Battery: &gear.BatteryPack{MAh: fact.Exactly(5000), Volts: fact.Exactly(3.7), UsableShare: fp(1)}}}})
		r.Show.Minutes = 165
	}), nil, limit.Snapped, "run-time snapped", "bank:bank:1", "", ""},
	{"a sixteen-metre lead lies in a coil, the camera stands three metres off", "2.5", like(func(r *rig.Rig) {
		r.Leads[0].SpanM = fp(3)
	}), []rig.Edit{metres("h0", 16)}, limit.Snapped, "reach snapped", "lead:h0:premium:3", "", ""},
	{"a nine-metre lead: near its end", "2.5", asIs, []rig.Edit{metres("h0", 9)}, limit.Taut, "reach taut", "-", "",
		""},
	{"a two-metre lead for a run of four", "2.5", like(func(r *rig.Rig) { r.Leads[0].SpanM = fp(4) }),
		[]rig.Edit{metres("h0", 2)}, limit.Snapped, "run snapped", "lead:h0:high-speed:5", "lead:h0:high-speed:5", ""},
	{"a one-metre USB lead for a run of two", "3.3", like(func(r *rig.Rig) { r.Leads[1].SpanM = fp(2) }),
		[]rig.Edit{metres("u0", 1)}, limit.Snapped, "run snapped", "lead:u0:usb-5g:2", "", ""},
	{"three metres of the thinnest USB lead before a stick that draws all a socket gives", "4.1",
		like(func(r *rig.Rig) {
			r.Items[1].Gear.Power = &gear.Power{DrawW: fp(4.5)}
			r.Leads[1].LengthM, r.Leads[1].AWG = fact.Exactly(3), fp(30)
		}), nil, limit.Snapped, "drop snapped", "lead:u0:usb-5g:3", "lead:u0:usb-5g:3", ""},
	{"five metres of USB lead lie in a coil, the computer stands one and a half off", "3.3", like(func(r *rig.Rig) {
		r.Leads[1].SpanM = fp(1.5)
	}), []rig.Edit{metres("u0", 5)}, limit.Snapped, "reach snapped", "lead:u0:usb-5g:2", "", ""},
	{"one camera left at 25 in a talk at 29.97", "1.3", asIs, []rig.Edit{mode(at(1920, 1080, picture.R(25)))},
		limit.Kinked, "cadence kinked", "mode:cam-0.hdmi:1080p29.97", "", ""},
	{"the same camera, and the show is slides", "1.3", like(programme(rate2997, "still")),
		[]rig.Edit{mode(at(1920, 1080, picture.R(25)))}, limit.Slack, "", "-", "", ""},
	{"film rate in a talk at 29.97", "1.3", asIs, []rig.Edit{mode(at(1920, 1080, picture.NewRate(24000, 1001)))},
		limit.Kinked, "cadence kinked", "mode:cam-0.hdmi:1080p29.97", "", ""},
	{"a camera at 59.94 for a show at 29.97", "1.3", asIs, []rig.Edit{mode(at(1920, 1080, rate5994))}, limit.Slack,
		"", "-", "", ""},
	{"a computer's 30 among a talk's 29.97: a slip nobody sees", "1.3", asIs,
		[]rig.Edit{mode(at(1920, 1080, picture.R(30)))}, limit.Slack, "", "-", "", ""},
	{"60 even among 59.94 in sport: the slip is seen", "1.3", like(programme(rate5994, "sport")),
		[]rig.Edit{mode(at(1920, 1080, picture.R(60)))}, limit.Kinked, "cadence kinked", "mode:cam-0.hdmi:1080p59.94",
		"", ""},
	{"the camera shows its menus in the picture", "2.1", asIs, []rig.Edit{word("items/cam-0/clean", "after-setting"),
		{Do: "info-display", Item: "cam-0", Word: "on"}}, limit.Kinked, "clean kinked", "info-display:cam-0", "", ""},
	{"a camera that never gets rid of its menus", "2.1", asIs, []rig.Edit{word("items/cam-0/clean", "never")},
		limit.Kinked, "clean kinked", "-", "", ""},
	{"nobody has looked at the output of the camera", "2.1", asIs, []rig.Edit{word("items/cam-0/clean", "unknown")},
		limit.Slack, "clean untested", "-", "", "items/cam-0/clean"},
	{"a small battery for a long evening, an adapter is there", "4.2", like(battery(1080, gear.MainsYes)), nil,
		limit.Snapped, "run-time snapped", "runs-on:cam-0", "", ""},
	{"a small battery, and a dummy battery can be had", "4.2", like(battery(1080, gear.MainsDummy)), nil,
		limit.Snapped, "run-time snapped", "runs-on:cam-0", "", ""},
	{"meant to run on the mains, which its sheet rules out; its battery lasts an hour and a half", "4.2",
		like(func(r *rig.Rig) {
			battery(1080, gear.MainsNo)(r)
			r.Items[0].Set.RunsOn = "mains"
		}), nil, limit.Snapped, "run-time snapped", "runs-on:cam-0:battery", "runs-on:cam-0:battery", ""},
	{"it runs by USB, from nothing", "4.2", like(func(r *rig.Rig) {
		battery(1080, gear.MainsNo)(r)
		r.Items[0].Gear.Power.USB, r.Items[0].Set.RunsOn, r.Show.Minutes = "runs", "usb", 240
	}), nil, limit.Snapped, "run-time snapped", "usb-supply:", "usb-supply:", ""},
	{"a battery that nearly lasts, and no way to the mains", "4.2", like(battery(1080, gear.MainsNo)), nil,
		limit.Snapped, "run-time snapped", "spare:cam-0", "", ""},
	{"two sticks at 60 on one hub, a socket of the computer is free", "3.3", onHub(1), nil, limit.Snapped,
		"bus snapped", "plug:", "", ""},
	{"two sticks at 60 on one hub, and no other socket", "3.3", onHub(0), nil, limit.Snapped, "bus snapped",
		"deliver:", "", ""},
	{"the stick hangs on the lead of a charger", "3.2", like(func(r *rig.Rig) {
		r.Leads[1].Grade, r.Leads[1].LengthM = "usb-charge", fact.Exactly(1)
	}), nil, limit.Snapped, "carries-data snapped", "lead:u0:usb-5g", "", ""},
	{"nobody knows what the lead of the stick is made for", "3.2", like(func(r *rig.Rig) {
		r.Leads[1].Grade, r.Leads[1].LengthM = "usb-unknown", fact.Exactly(1)
	}), nil, limit.Untested, "carries-data untested", "-", "lead:u0:usb-5g", "leads/u0/grade"},
	{"nobody knows how fast the socket is", "3.2", like(func(r *rig.Rig) {
		r.Item("pc").Gear.Ports[0].USB.Speed = usb.UnknownSpeed
	}), nil, limit.Untested, "link untested", "-", "", "ports/p0/usb/speed"},
	{"the destination takes 720 lines at most, and 1080 are sent", "1.1", like(func(r *rig.Rig) {
		r.Show.Destinations[0].Ingest = &rig.Ingest{MaxWidth: 1280, MaxHeight: 720, MaxRate: picture.R(30),
			MaxVideoKbps: 4000, CheckedOn: "2026-09-01"}
		r.Show.Destinations[0].Send = rig.Send{Width: 1920, Height: 1080, Rate: rate2997, VideoKbps: fp(4000)}
	}), nil, limit.Snapped, "ingest snapped", "send:d:1280×720", "", ""},
	{"5000 kilobits to a destination that takes 4000", "5.3", like(func(r *rig.Rig) {
		r.Show.Destinations[0].Ingest = &rig.Ingest{MaxWidth: 1280, MaxHeight: 720, MaxRate: picture.R(30),
			MaxVideoKbps: 4000, CheckedOn: "2026-09-01"}
		r.Show.Destinations[0].Send.VideoKbps = fp(5000)
	}), nil, limit.Snapped, "ingest-bitrate snapped", "send:d:cap", "", ""},
	{"two megabits of upload for a stream of four", "5.4", like(func(r *rig.Rig) {
		r.Show.Destinations[0].Send.VideoKbps = fp(4000)
		for i := range r.Uplink.MeasuredMbps {
			r.Uplink.MeasuredMbps[i].Value = 2
		}
	}), nil, limit.Snapped, "uplink snapped", "send:d:", "", ""},
	{"nobody has measured the upload", "5.4", like(func(r *rig.Rig) { r.Uplink = nil }), nil, limit.Untested,
		"uplink untested", "-", "", "uplink/estimateMbps"},
	{"an active lead lies the wrong way round", "2.5", like(func(r *rig.Rig) {
		r.Leads[0].Grade, r.Leads[0].Direction = "active", "wrong"
	}), nil, limit.Snapped, "source-end snapped", "turn:h0", "", ""},
	{"an active lead, and nobody knows which way it lies", "2.5", like(func(r *rig.Rig) {
		r.Leads[0].Grade = "active"
	}), nil, limit.Untested, "source-end untested", "-", "", "leads/h0/direction"},
	{"1/60 in the light of a 50 Hz country", "1.4", like(func(r *rig.Rig) {
		r.Show.MainsHz, r.Items[0].Set.Shutter = 50, picture.NewExposure(1, 60)
	}), nil, limit.Kinked, "flicker kinked", "set:cam-0:shutter", "", ""},
	{"auto power off was left on", "2.2", like(func(r *rig.Rig) {
		r.Items[0].Gear.Settings, r.Items[0].Gear.Standby = []gear.Setting{{ID: "auto-power-off"}}, nil
		r.Items[0].Set.Settings = map[string]string{"auto-power-off": "on"}
	}), nil, limit.Snapped, "setting snapped", "set:cam-0:settings/auto-power-off:off", "", ""},
	{"a camera with an auto power off nobody has touched", "2.2", like(func(r *rig.Rig) {
		r.Items[0].Gear.Settings, r.Items[0].Gear.Standby = []gear.Setting{{ID: "auto-power-off"}}, nil
	}), nil, limit.Slack, "", "-", "", ""},
	{"nobody has waited to see whether the camera sleeps", "2.2", like(func(r *rig.Rig) {
		r.Items[0].Gear.Standby = nil
	}), nil, limit.Untested, "standby untested", "-", "", "items/cam-0/standby/does"},
	{"it goes black after half an hour, and nothing turns that off", "2.2", like(func(r *rig.Rig) {
		r.Items[0].Gear.Standby = &gear.Standby{Does: "black", AfterMinutes: fp(30)}
	}), nil, limit.Snapped, "standby snapped", "touch:cam-0", "touch:cam-0", ""},
	{"a console that encrypts until its menu says not to", "2.2", like(func(r *rig.Rig) {
		r.Items[0].Gear.Kind, r.Items[0].Gear.Protected, r.Items[0].Set.Protection = gear.Console, gear.UntilTurnedOff,
			"on"
	}), nil, limit.Snapped, "protected snapped", "set:cam-0:protection:off", "", ""},
	{"a player that always encrypts, alone", "2.2", like(func(r *rig.Rig) {
		r.Items[0].Gear.Kind, r.Items[0].Gear.Protected = gear.Player, gear.AlwaysProtected
	}), nil, limit.Snapped, "protected snapped", "-", "", ""},
	{"a player that always encrypts, beside a camera", "2.2", func() *rig.Rig {
		r := onHub(1)()
		r.Items[2].Gear.Kind, r.Items[2].Gear.Protected = gear.Player, gear.AlwaysProtected
		return r
	}, nil, limit.Snapped, "protected snapped", "without:cam-1", "", ""},
	{"a camera's 4K into a device that takes full HD", "2.2", like(func(r *rig.Rig) {
		r.Items[1].Gear.Ports[0].MoreModes = false
	}), []rig.Edit{mode(at(3840, 2160, rate2997))}, limit.Snapped, "takes snapped", "mode:cam-0.hdmi:1080p29.97",
		"", ""},
	{"only 720 lines are taken from the stick", "5.2", asIs,
		[]rig.Edit{{Do: "deliver", Item: "stick-0", Port: "usb", Deliver: &rig.Deliver{Format: picture.YUY2,
			Width: 1280, Height: 720}}}, limit.Kinked, "size kinked", "deliver:stick-0.usb", "", ""},
	{"a camcorder that sends fields", "1.2", asIs,
		[]rig.Edit{mode(&picture.Mode{Width: 1920, Height: 1080, Rate: rate2997, Interlaced: true})}, limit.Snapped,
		"takes snapped", "mode:cam-0.hdmi:1080p29.97", "", ""},
	{"the camera stops for heat after forty minutes", "4.4", like(func(r *rig.Rig) {
		r.Items[0].Gear.HeatLimits = []gear.HeatLimit{{Minutes: fact.Exactly(40)}}
	}), nil, limit.Snapped, "heat snapped", "", "", ""},
	{"a stick of 700 mA in a USB 2 socket of 500", "4.1", like(func(r *rig.Rig) {
		r.Items[1].Gear.Power = &gear.Power{DrawW: fp(3.5)}
		r.Item("pc").Gear.Ports[0].AllowsMA = fp(500)
	}), nil, limit.Snapped, "port-current snapped", "", "hub:u0", ""},
	{"a card in the slot a drive may take lanes from", "3.5", func() *rig.Rig { return rigs.Desk() }, nil,
		limit.Snapped, "slot snapped", "plug:card-slot:tower.slot-1", "", ""},
	{"three cameras on a switcher, and each is wanted by itself in the program", "3.1", func() *rig.Rig {
		return rigs.Hall()
	}, nil, limit.Snapped, "angles snapped", "show:switch-there", "", ""},
	{"the puppet loft before anybody put it right", "", func() *rig.Rig { return rigs.Loft() }, nil, limit.Snapped,
		"bus snapped", "plug:", "", "leads/slides-lead/grade"},
	{"a switcher's picture output in the picture output of the computer; its USB hangs free", "2.4",
		like(func(r *rig.Rig) {
			mix := gear.Gear{Kind: gear.Switcher, Name: "Switcher", Overview: "yes", Ports: []gear.Port{
				{ID: "in-1", Connector: gear.HDMIA, Direction: gear.In, HDMI: &gear.HDMIPort{MaxTMDSMHz: fp(340)},
					Modes: []picture.Mode{*at(1920, 1080, rate2997)}},
				{ID: "out", Connector: gear.HDMIA, Direction: gear.Out, HDMI: &gear.HDMIPort{MaxTMDSMHz: fp(340)},
					Modes: []picture.Mode{*at(1920, 1080, rate2997)}},
				{ID: "usb", Connector: gear.USBA, Direction: gear.Upstream, USB: &gear.USBPort{Speed: usb.Gen1,
					Transfer: usb.Bulk}}},
				Delivers: []gear.Delivery{{Format: picture.MJPEG, Width: 1920, Height: 1080, MaxRate: picture.R(60)}},
				Power:    &gear.Power{Mains: gear.MainsYes, DrawW: fp(15)}}
			r.Items[1] = rig.Item{ID: "mix", Label: "Switcher", Gear: mix}
			r.Leads[0].To = "mix.in-1"
			r.Leads[1] = rig.Lead{ID: "u0", From: "mix.out", To: "pc.picture-out", Grade: "high-speed",
				LengthM: fact.Exactly(1)}
		}), nil, limit.Snapped, "way-round snapped", "connect:mix.usb", "", ""},
	{"a computer and two lamps on a small UPS", "4.3", like(func(r *rig.Rig) {
		lamp := gear.Gear{Kind: gear.Lamp, Name: "Lamp", Power: &gear.Power{Mains: gear.MainsYes, DrawW: fp(150)}}
		r.Items = append(r.Items, rig.Item{ID: "ups", Label: "UPS", Gear: gear.Gear{Kind: gear.UPS, Name: "UPS",
			Power: &gear.Power{LimitW: fp(300), LimitVA: fp(500)}}},
			rig.Item{ID: "lamp-1", Label: "Lamp 1", Gear: lamp, PoweredBy: "ups"},
			rig.Item{ID: "lamp-2", Label: "Lamp 2", Gear: lamp, PoweredBy: "ups"})
		r.Item("pc").Gear.Power, r.Item("pc").PoweredBy = &gear.Power{Mains: gear.MainsYes, DrawW: fp(120)}, "ups"
	}), nil, limit.Snapped, "ups-w snapped", "ups:ups", "off:ups:lamp", ""},
	{"one camera, a laptop, a talk at 30: three answers", "README", answers(30, 120, one), nil, limit.Untested,
		"link untested", "-", "", "usb/speed"},
	{"three cameras and a phone at 50: three answers", "README",
		answers(50, 120, three, rig.StartSource{Kind: "phone", Count: 1}), nil, limit.Untested, "cadence kinked",
		"-", "show:rate:30", "leads/hdmi-1/grade"},
	{"a small laptop that is to code 1080p60 at medium", "5.6", like(func(r *rig.Rig) {
		r.Item("pc").Gear.Class = gear.SmallLaptop
		r.Show.Programme.Rate = rate5994
		r.Show.Destinations[0].Send = rig.Send{Width: 1920, Height: 1080, Rate: rate5994, Encoder: "slow"}
	}), nil, limit.Snapped, "processor snapped", "send:d:coder", "", ""},
	{"recorded on a stick that writes 1.5 megabytes a second, and a fast drive lies beside it", "5.5",
		like(func(r *rig.Rig) {
			r.Items = append(r.Items, rig.Item{ID: "stick", Label: "Flash stick", Gear: gear.Gear{Kind: gear.Drive,
				Name: "Flash stick", WriteMBps: fp(1.5), FreeGB: fp(100)}},
				rig.Item{ID: "fast", Label: "Fast drive", Gear: gear.Gear{Kind: gear.Drive, Name: "Fast drive",
					WriteMBps: fp(400), FreeGB: fp(400)}})
			r.Show.Recordings = []rig.Recording{{What: "programme", Drive: "stick", Kbps: fp(16000)}}
		}), nil, limit.Snapped, "drive-write snapped", "drive:0:fast", "", ""},
	{"kept in the camera too, which ends a recording after twenty-nine minutes", "2.2", like(func(r *rig.Rig) {
		r.Items[0].Gear.RecordLimitMinutes = fp(29)
		r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true, RawBits: 0}}
	}), nil, limit.Snapped, "record-limit snapped", "restart:cam-0", "restart:cam-0", ""},
	{"the same, and somebody starts it again in the breaks", "2.2", like(func(r *rig.Rig) {
		r.Items[0].Gear.RecordLimitMinutes = fp(29)
		r.Show.Recordings = []rig.Recording{{What: "cam-0", InCamera: true, Restarts: true}}
	}), nil, limit.Untested, "record-limit taut", "-", "", ""},
	{"recorded as plain MP4", "5.3", like(func(r *rig.Rig) {
		r.Item("pc").Gear.FreeGB, r.Item("pc").Gear.WriteMBps = fp(400), fp(400)
		r.Item("pc").Gear.Class = gear.MidDesktop
		r.Show.Recordings = []rig.Recording{{What: "programme", Container: "mp4"}}
	}), nil, limit.Slack, "container taut", "-", "", ""},
	{"sent to one that takes reliable UDP only", "5.8", like(func(r *rig.Rig) {
		r.Show.Destinations[0].Ingest.Transports = []string{"srt"}
	}), nil, limit.Snapped, "transport snapped", "transport:d:srt", "", ""},
	{"720 lines composed and 1080 sent", "5.2", like(func(r *rig.Rig) {
		r.Show.Programme.Width, r.Show.Programme.Height = 1280, 720
		r.Show.Destinations[0].Send.Width, r.Show.Destinations[0].Send.Height = 1920, 1080
	}), nil, limit.Kinked, "sent-size kinked", "send:d:as-composed", "", ""},
	{"1080 lines at 2000 kilobits: blocks on movement", "5.3", like(func(r *rig.Rig) {
		d := &r.Show.Destinations[0]
		d.Send.Width, d.Send.Height, d.Send.VideoKbps = 1920, 1080, fp(2000)
	}), nil, limit.Kinked, "bits-a-pixel kinked", "send:d:raise", "", ""},
	{"a recording, and nobody knows how much is free on the drive", "5.5", like(func(r *rig.Rig) {
		r.Show.Recordings = []rig.Recording{{What: "programme"}}
	}), nil, limit.Untested, "drive-space untested", "-", "", "freeGB"},
	{"a lapel microphone, and the camera's own is open too: echo", "6.1", voiced(func(s *rig.Sound) {
		s.Paths = append(s.Paths, rig.SoundPath{Voice: "Ida", From: "cam-0", On: "air"})
	}), nil, limit.Kinked, "voice kinked", "", "mute:", ""},
	{"two lapel microphones into an interface with one input", "6.1", func() *rig.Rig {
		r := voiced(func(s *rig.Sound) {
			s.Paths[0].Via = []string{"small"}
			other := s.Paths[0]
			other.Voice, other.From = "Bo", "lapel-2"
			s.Paths = append(s.Paths, other)
		})()
		two := *r.Item("lapel")
		two.ID, two.Label = "lapel-2", "lapel 2"
		r.Items = append(r.Items, two)
		s := *r.Item("small").Gear.Sound
		s.Inputs = fp(1)
		r.Item("small").Gear.Sound = &s
		return r
	}, nil, limit.Snapped, "inputs snapped", "", "inputs:small:", ""},
	{"every microphone was muted for the break, and stayed so", "6.1", voiced(func(s *rig.Sound) {
		s.Paths[0].On = "muted"
	}), nil, limit.Snapped, "voice snapped", "on-air:", "on-air:", ""},
	{"the stream plays on loudspeakers beside the microphone", "6.1", voiced(func(s *rig.Sound) {
		s.Loudspeakers = "yes"
	}), nil, limit.Kinked, "loudspeaker kinked", "", "headphones", ""},
	{"nobody has clapped yet", "6.3", voiced(func(s *rig.Sound) { s.Paths[0].OffsetMs = nil }), nil, limit.Slack,
		"lip-sync untested", "-", "", "offsetMs"},
	{"the microphone stands three metres away", "6.1", voiced(func(s *rig.Sound) {
		far := fact.Exactly(3)
		s.Paths[0].DistanceM = &far
	}), nil, limit.Kinked, "mic-distance kinked", "near:0", "near:0", ""},
	{"the speaker listens to what the program plays back", "6.1", voiced(func(s *rig.Sound) { s.Monitor = "program" }),
		nil, limit.Kinked, "monitor kinked", "hear-direct", "hear-direct", ""},
	{"a stereo lead from the mixer's balanced output into the camera", "6.5", voiced(func(s *rig.Sound) {
		s.Paths[0].Via, s.Paths[0].OneLeg = []string{"balanced", "small"}, "no"
	}), nil, limit.Snapped, "one-leg snapped", "one-leg:", "one-leg:", ""},
	{"one microphone in input 1, heard on the left only", "6.1", voiced(func(s *rig.Sound) {
		s.Paths[0].Middle = "no"
	}), nil, limit.Kinked, "one-sided kinked", "middle", "middle", ""},
	{"the computer goes to sleep in the middle of the show", "7.3", like(func(r *rig.Rig) {
		r.Item("pc").Set = &rig.Set{Undisturbed: map[string]string{"sleep": "on"}}
	}), nil, limit.Snapped, "computer-awake snapped", "set:pc:sleep", "set:pc:sleep", ""},
	{"a destination whose account may not go live yet", "7.3", like(func(r *rig.Rig) {
		r.Show.Destinations[0].Permission = "no"
	}), nil, limit.Snapped, "permission snapped", "-", "", ""},
	{"a phone's line with one gigabyte left", "5.4", like(func(r *rig.Rig) {
		r.Uplink.Whose, r.Uplink.AllowanceGB = "phone", fp(1)
	}), nil, limit.Snapped, "allowance snapped", "", "", ""},
	{"a console at 120 into a stick for 60, and 24 the only other: nobody plays at 24", "1.2", like(func(r *rig.Rig) {
		console := r.Item("cam-0")
		console.Gear.Kind = gear.Console
		port := &console.Gear.Ports[0]
		port.Modes = []picture.Mode{*at(1920, 1080, picture.NewRate(24000, 1001)), *at(1920, 1080, picture.R(120))}
		console.Set.Output[port.ID] = *at(1920, 1080, picture.R(120))
	}), nil, limit.Snapped, "takes snapped", "-", "", ""},
	{"four cameras at 60 into a laptop of which nobody knows how fast it is: measure it, or ask less of it", "5.1",
		answers(60, 60, rig.StartSource{Kind: "camera", Count: 4}), nil, limit.Untested, "processor untested", "-",
		"send:Stream:", "class"},
	{"two cameras in a call that takes one", "5.0", func() *rig.Rig {
		r := onHub(1)()
		r.Show.Program.Kind, r.Show.Angles, r.Show.AnglesSelectable, r.Show.Destinations = "call", 2, true,
			[]rig.Destination{}
		return r
	}, nil, limit.Snapped, "angles snapped", "show:through-encoder", "", ""},
	{"a small picture in the corner, and people see it in a square", "5.2", func() *rig.Rig {
		r := onHub(1)()
		r.Show.Layouts = []rig.Layout{{Name: "Talk", Shape: "inset", Sources: []string{"cam-0", "cam-1"}, SizePct: 20}}
		r.Show.Destinations[0].Window = "1:1"
		return r
	}, nil, limit.Snapped, "window kinked", "", "show:layout:0:in", ""},
	{"two cameras to be cut by a switcher nobody has", "1.1", func() *rig.Rig {
		r := onHub(1)()
		r.Show.Angles, r.Show.Switching = 2, "switcher"
		return r
	}, nil, limit.Snapped, "who-switches snapped", "show:by-keys", "", ""},
	{"twelve cameras: three answers", "README", answers(30, 120, twelve), nil, limit.Untested, "clean untested", "-",
		"", "usb/speed"},
}

func TestAsTold(t *testing.T) {
	require.GreaterOrEqual(t, len(asTold), 40)
	for _, c := range asTold {
		t.Run(c.tells, func(t *testing.T) {
			r, err := rig.Apply(c.rig(), c.edits...)
			require.NoError(t, err)
			require.Empty(t, rig.Check(r))
			v := judge.Rig(r)
			a := advise.On(context.Background(), v, advise.Effort)
			shown := view.Of(v, a)
			text := view.Report("", &shown)
			require.Equal(t, c.state, v.State, "%s", text)
			if c.wrong != "" {
				at := slices.IndexFunc(a.Findings, func(f advise.Finding) bool {
					return slices.ContainsFunc(f.Members, func(m advise.Member) bool {
						return m.Result.ID.Rule.String()+" "+m.Result.State.String() == c.wrong
					})
				})
				require.GreaterOrEqual(t, at, 0, "no finding %s: %s", c.wrong, text)
				if c.fix != "" {
					require.True(t, slices.ContainsFunc(a.Findings[at].Members, func(m advise.Member) bool {
						return slices.ContainsFunc(slices.Concat(m.Fixes, m.Eases), func(m advise.Move) bool {
							return strings.HasPrefix(m.ID, c.fix)
						})
					}), "no fix %s: %s", c.fix, text)
				}
			} else {
				for _, f := range a.Findings {
					require.LessOrEqual(t, f.State.Severity(), limit.Taut.Severity(), "%s", text)
				}
			}
			switch {
			case c.cure == "-":
				require.Nil(t, a.Cure, "%s", text)
			case c.cure != "":
				require.NotNil(t, a.Cure, "%s", text)
				require.True(t, slices.ContainsFunc(a.Cure.Moves, func(m advise.Move) bool {
					return strings.HasPrefix(m.ID, c.cure)
				}), "no move %s: %s", c.cure, text)
			}
			if c.asks != "" {
				require.True(t, slices.ContainsFunc(a.Questions, func(q advise.Question) bool {
					return strings.Contains(q.Path, c.asks)
				}), "does not ask %s: %s", c.asks, text)
			}
			for _, q := range a.Questions {
				require.NotContains(t, q.Path, "/output/", "a choice is never asked as a fact")
				require.NotContains(t, q.Path, "/deliver/", "a choice is never asked as a fact")
			}
		})
	}
}

// Rigs from three answers leave few facts open and few findings, however many cameras (what load, uplink, drive, sound
// and what a destination takes of it ask comes to five more at most).
func TestThreeAnswersLeaveLittleOpen(t *testing.T) {
	for _, c := range []struct {
		name     string
		rig      func() *rig.Rig
		findings int
	}{{"one", answers(30, 120, one), 3 + 5},
		{"three and a phone", answers(50, 120, three, rig.StartSource{Kind: "phone", Count: 1}), 8 + 5},
		{"twelve", answers(30, 120, twelve), 12}} {
		older := c.rig() // as the start of an older version laid it out: a hub of which nothing is known, no settings
		for i := range older.Items {
			if older.Items[i].Gear.Settings = nil; older.Items[i].Gear.Kind == gear.Hub {
				older.Items[i].Gear = gear.SpareHub.Gear
			}
		}
		for _, r := range []*rig.Rig{c.rig(), older} {
			v := judge.Rig(r)
			a := advise.On(context.Background(), v, advise.Effort)
			require.NotEqual(t, limit.Snapped, v.State, c.name)
			counted := 0
			for i := range a.Findings {
				if a.Findings[i].Over != limit.Care || r != older {
					// of an older file, what asks for care only comes beside them
					counted++
				}
			}
			require.LessOrEqual(t, counted, c.findings, c.name)
			// Twelve sticks: decoding MJPEG from all of them is likely more than a laptop does, so that setting all
			// alike is not the end of it, and not every mixture is tried.
			require.True(t, v.Proposed.Proven || c.name == "twelve", c.name)
		}
	}
}
