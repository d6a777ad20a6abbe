package gear

// Usual is a setting cameras and phones have in common: what a show needs and why.
type Usual struct {
	ID    string
	Label string
	Want  string
	Why   string
	// Ends tells that a wrong value ends a show or puts something else on air; otherwise it only makes it worse.
	Ends bool
	// Sleeps: wrong, the device turns itself off after the minutes its standby says.
	Sleeps bool
	Flaw   bool // all that comes of it is that it looks or sounds worse than it should
}

// UsualSettings are the settings [practice]. The information display has its own place (Gear.Clean and
// the rig's infoDisplay).
var UsualSettings = []Usual{
	{ID: "auto-power-off", Label: "auto power off", Want: "off", Why: "it switches itself off when nobody touches it",
		Ends: true, Sleeps: true},
	{ID: "idle-standby", Label: "idle standby", Want: "off", Why: "the picture sleeps when nobody touches it",
		Ends: true, Sleeps: true},
	{ID: "output-size", Label: "output size and rate", Want: "fixed",
		Why: "on auto the output changes with what is plugged in"},
	{ID: "heat-limit", Label: "automatic power-off temperature", Want: "high",
		Why: "at the standard setting it switches off earlier by heat"},
	{ID: "usb-power", Label: "USB power supply", Want: "on", Why: "it takes no power by USB until this is on"},
	{ID: "movie-mode", Label: "movie mode", Want: "on",
		Why: "in stills mode the output has borders, boxes or another rate"},
	{ID: "exposure", Label: "exposure, white balance and look", Want: "by hand",
		Why: "what is set in the camera is what goes to air"},
	{ID: "autofocus", Label: "focus", Want: "continuous or locked", Why: "a single focus hunts or stays behind"},
	{ID: "phone-link", Label: "phone link", Want: "off", Why: "it blocks other functions on some cameras"},
	{ID: "usb-remote", Label: "remote by USB", Want: "on", Why: "the program cannot read the camera without it"},
	{ID: "rotation-lock", Label: "rotation lock", Want: "on", Why: "the picture turns when the phone is moved"},
	{ID: "own-controls", Label: "the app's own controls", Want: "hidden", Why: "they stand in the picture", Ends: true,
		Flaw: true},
	{ID: "notices", Label: "notices and calls", Want: "silent", Why: "they interrupt picture and sound"},
	{ID: "pcm-sound", Label: "sound output", Want: "PCM", Why: "a compressed sound stream is captured as silence"},
	{ID: "hdr-output", Label: "HDR or log output", Want: "off", Why: "in an ordinary capture it looks washed out",
		Ends: true, Flaw: true},
}

// usual finds a usual setting; nil when the id is a device's own.
func usual(id string) *Usual {
	for i := range UsualSettings {
		if UsualSettings[i].ID == id {
			return &UsualSettings[i]
		}
	}
	return nil
}

// Known is a setting with everything known of it: what the sheet says, filled from the usual ones.
func (s *Setting) Known() Usual {
	k := Usual{ID: s.ID, Label: s.Label, Want: s.Want}
	if u := usual(s.ID); u != nil {
		k = *u
		if s.Label != "" {
			k.Label = s.Label
		}
		if s.Want != "" {
			k.Want = s.Want
		}
	}
	if k.Label == "" {
		k.Label = s.ID
	}
	return k
}

// Setting finds a setting of the sheet by id; nil when it has none.
func (g *Gear) Setting(id string) *Setting {
	for i := range g.Settings {
		if g.Settings[i].ID == id {
			return &g.Settings[i]
		}
	}
	return nil
}

// HasPort tells whether it has a port of a family and direction.
func (g *Gear) HasPort(f Family, d Direction) bool {
	for i := range g.Ports {
		if g.Ports[i].Direction == d && g.Ports[i].Connector.Family() == f {
			return true
		}
	}
	return false
}
