// What a technician would do with what is sent, coded and kept: a smaller picture, another bitrate, another preset,
// drive or container.

package advise

import (
	"cmp"
	"slices"
	"strconv"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/picture"
	"eventether/core/plans"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/work"
)

func (u *universe) sends() {
	rungs := plans.Rungs(u.Show.Programme, u.Show.Motion)
	for i := range u.Show.Destinations {
		d := &u.Show.Destinations[i]
		if d.Via != "" {
			continue // what is sent to the one that passes it on is moved
		}
		now := d.Send
		for _, step := range rungs { // every rung under what is sent [practice]
			if step.Height > now.Height || step.Width > now.Width || step.Height == now.Height &&
				step.Rate.Cmp(now.Rate) >= 0 {
				continue
			}
			send := now
			send.Width, send.Height, send.Rate = step.Width, step.Height, step.Rate
			kbps := u.p.BitrateFor(i, send)
			send.VideoKbps = new(fact.Exactly(kbps))
			m := move("send", "send:"+d.Name+":"+picture.SizeName(step.Width, step.Height)+":"+step.Rate.String(),
				"show").
				slotted("send:" + d.Name).
				touching("send").
				taking(u.takes(work.Send)).
				givingUp(lang.Text("a smaller picture for the viewers")).
				worse(1000 + (rungs[0].Worth-step.Worth)/10).
				doing(plans.SendEdits(&u.Show, i, send)...)
			m.say = func() (label, short string) {
				return lang.Text("Send %s at %s, %s kb/s to %s", picture.SizeName(step.Width, step.Height),
						step.Rate.Name(), say.Number(kbps), d.Name),
					lang.Text("send %s to %s", step.Label, d.Name)
			}
			u.add(m)
		}
		if in := d.Ingest; in != nil && in.MaxVideoKbps > 0 && now.VideoKbps != nil &&
			now.VideoKbps.Low > in.MaxVideoKbps {
			// to the cap, and no further
			send := now
			kbps := fact.Exactly(in.MaxVideoKbps)
			send.VideoKbps = &kbps
			u.add(move("send", "send:"+d.Name+":cap", "show").
				slotted("send:" + d.Name).
				touching("send").
				taking(u.takes(work.Send)).
				worse(3).
				saying(func() (string, string) {
					return lang.Text("Lower the video bitrate to %s to the %s kb/s it takes", d.Name,
						say.Number(in.MaxVideoKbps)), lang.Text("%s kb/s to %s", say.Number(in.MaxVideoKbps), d.Name)
				}).
				doing(rig.Edit{Do: "send", Name: d.Name, Send: &send}))
		}
		if least := u.p.BitrateFor(i, now); now.VideoKbps != nil && now.VideoKbps.Value > least {
			send := now
			send.VideoKbps = new(fact.Exactly(least))
			u.add(move("send", "send:"+d.Name+":"+say.Number(least), "show").
				slotted("send:" + d.Name).
				touching("send").
				taking(u.takes(work.Send)).
				worse(5).
				saying(func() (string, string) {
					return lang.Text("Lower the video bitrate to %s to %s kb/s", d.Name, say.Number(least)),
						lang.Text("%s kb/s to %s", say.Number(least), d.Name)
				}).
				doing(rig.Edit{Do: "send", Name: d.Name, Send: &send}))
		}
	}
}

// sendMove is a move that changes what is sent to one destination.
func (u *universe) sendMove(d *rig.Destination, id string, loss int, send rig.Send, say func() (string, string)) {
	i := slices.IndexFunc(u.Show.Destinations, func(o rig.Destination) bool { return o.Name == d.Name })
	u.add(move("send", "send:"+d.Name+":"+id, "show").
		slotted("send:" + d.Name).
		touching("send").
		taking(u.takes(work.Send)).
		worse(loss).
		saying(say).
		doing(plans.SendEdits(&u.Show, i, send)...))
}

// wordMove is a move that sets one word of the show.
func (u *universe) wordMove(id, path, word, givesUp string, minutes float64, loss int, say func() (string, string)) {
	u.add(move("send", id, "show").
		slotted(path).
		touching("show", "send").
		taking(minutes).
		givingUp(givesUp).
		worse(loss).
		saying(say).
		doing(rig.Edit{Do: "word", Path: path, Word: word}))
}

// mends are what makes a destination take what is sent, and what the computer and the line carry of it, short of a
// smaller picture.
func (u *universe) mends() {
	pr := u.Show.Programme
	for i := range u.Show.Destinations {
		d := &u.Show.Destinations[i]
		if d.Via != "" {
			continue
		}
		now := d.Send
		if d.Backup {
			show := u.Show
			show.Destinations = slices.Clone(show.Destinations)
			show.Destinations[i].Backup = false
			u.add(move("send", "backup:"+d.Name, "show").
				touching("send").
				taking(u.takes(work.Send)).
				givingUp(lang.Text("the second way into %s", d.Name)).
				worse(30).
				saying(func() (string, string) {
					return lang.Text("Do without the backup stream to %s", d.Name), lang.Text("no backup to %s", d.Name)
				}).
				doing(rig.Edit{Do: "show", Show: &show}))
		}
		if now.Encoder != "" {
			send := now
			send.Encoder = ""
			u.sendMove(d, "coder", 4, send, func() (string, string) {
				return lang.Text("Code what goes to %s by the best that fits, in place of %s", d.Name, now.Encoder),
					lang.Text("another preset for %s", d.Name)
			})
		}
		if now.Width > pr.Width || now.Height > pr.Height {
			send := now
			send.Width, send.Height = pr.Width, pr.Height
			u.sendMove(d, "as-composed", 1, send, func() (string, string) {
				return lang.Text("Send to %s as it is composed, no larger", d.Name), lang.Text("%s as it is composed",
					d.Name)
			})
		}
		if best := u.p.BitrateFor(i, now); now.VideoKbps != nil && now.VideoKbps.Value < best {
			send := now
			send.VideoKbps = new(fact.Exactly(best))
			u.sendMove(d, "raise", 1, send, func() (string, string) {
				return lang.Text("Raise the video bitrate to %s to %s kb/s", d.Name, say.Number(best)),
					lang.Text("%s kb/s to %s", say.Number(best), d.Name)
			})
		}
		in := d.Ingest
		if in == nil {
			continue
		}
		if least, _ := in.Least(); now.VideoKbps != nil && now.VideoKbps.Value < least {
			send := now
			send.VideoKbps = new(fact.Exactly(least))
			u.sendMove(d, "least", 1, send, func() (string, string) {
				return lang.Text("Raise the video bitrate to %s to the %s kb/s it wants", d.Name, say.Number(least)),
					lang.Text("%s kb/s to %s", say.Number(least), d.Name)
			})
		}
		if now.AudioKbps != nil && in.MaxAudioKbps > 0 && now.AudioKbps.Value > in.MaxAudioKbps {
			send := now
			kbps := fact.Exactly(in.MaxAudioKbps)
			send.AudioKbps = &kbps
			u.sendMove(d, "sound", 1, send, func() (string, string) {
				return lang.Text("Lower the sound to %s to the %s kb/s it takes", d.Name, say.Number(in.MaxAudioKbps)),
					lang.Text("%s kb/s of sound to %s", say.Number(in.MaxAudioKbps), d.Name)
			})
		}
		for _, t := range in.Transports {
			if was := d.Transport; t != was && !(was == "" && t == "rtmp") && !slices.Contains(in.Transports,
				cmp.Or(was, "rtmp")) {
				u.wordMove("transport:"+d.Name+":"+t, "show/destinations/"+strconv.Itoa(i)+"/transport", t, "",
					u.takes(work.Send), 1, func() (string, string) {
						return lang.Text("Send to %s by %s, which it takes", d.Name, plans.TransportName(t)),
							lang.Text("%s by %s", d.Name, plans.TransportName(t))
					})
			}
		}
	}
	u.keeps()
	u.quits()
	if host := u.Host(); host != nil && host.Set != nil && host.Set.RunsOn == "battery" {
		u.add(move("power", "runs-on:"+host.ID+":mains", host.ID).
			slotted("runs-on:" + host.ID).
			taking(u.takes(work.Plug)).
			saying(func() (string, string) {
				return lang.Text("Run %s on its charger: on its battery it is slower", host.Label),
					lang.Text("%s on its charger", host.Label)
			}).
			doing(rig.Edit{Do: "runs-on", Item: host.ID, Word: "mains"}))
	}
}

// quits are what the computer may be spared during the show.
func (u *universe) quits() {
	for i, what := range u.Show.Besides {
		show := u.Show
		show.Besides = slices.Delete(slices.Clone(u.Show.Besides), i, i+1)
		m := move("send", "quit:"+what, "show").
			slotted("show").
			touching("show", "send").
			taking(u.takes(work.Send)).
			doing(rig.Edit{Do: "show", Show: &show})
		switch what {
		case rig.OwnStream:
			m.say = func() (string, string) {
				return lang.Text("Watch the stream on a phone, not on this computer"),
					lang.Text("the stream watched elsewhere")
			}
		case rig.ScreenRecording:
			m.GivesUp, m.loss = lang.Text("the recording of the screen"), 40
			m.say = func() (string, string) {
				return lang.Text("Do not record the screen on this computer during the show"),
					lang.Text("no recording of the screen")
			}
		default:
			m.GivesUp, m.loss = lang.Text("the programme as a camera in other programs"), 60
			m.say = func() (string, string) {
				return lang.Text("Do without the virtual camera"), lang.Text("no virtual camera")
			}
		}
		u.add(m)
	}
}

// keeps are what mends a recording: another container, another drive, the stream as it was coded.
func (u *universe) keeps() {
	for i := range u.Show.Recordings {
		rec := &u.Show.Recordings[i]
		at := "show/recordings/" + strconv.Itoa(i) + "/"
		if !u.p.ByComputer(rec) {
			continue
		}
		name := u.p.RecordingName(i)
		if rec.Container == "mp4" || rec.Container == "mov" {
			u.wordMove("container:"+strconv.Itoa(i), at+"container", "fmp4", "", u.takes(work.Send), 0,
				func() (string, string) {
					return lang.Text("Keep the %s as fragmented MP4", name), lang.Text("fragmented MP4")
				})
		}
		if rec.Encoder != plans.KeepsStream && rec.What == "programme" && len(u.Show.Destinations) > 0 &&
			u.Show.Program.Kind == "encoder" {
			u.wordMove("keeps-stream:"+strconv.Itoa(i), at+"encoder", plans.KeepsStream,
				lang.Text("a recording better than the stream"), u.takes(work.Send), 600, func() (string, string) {
					return lang.Text("Keep the stream's own picture as the %s, coded once", name),
						lang.Text("the %s is the stream's own", name)
				})
		}
		for j := range u.Items {
			it := &u.Items[j]
			if it.ID == rec.Drive || it.Gear.Kind != gear.Drive && !(it.IsHost() && rec.Drive != "") {
				continue
			}
			u.wordMove("drive:"+strconv.Itoa(i)+":"+it.ID, at+"drive", it.ID, "", u.takes(work.Send), 2,
				func() (string, string) {
					return lang.Text("Keep the %s on %s", name, it.Label), lang.Text("the %s on %s", name, it.Label)
				})
		}
	}
}
