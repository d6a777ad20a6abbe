// Package rig answers: what is connected to what, set how, for which show? It holds the rig document, finds what is
// wrong with one, traces every feed from lens to program, and applies edits.
package rig

import (
	"strings"

	"eventether/core/fact"
	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/sdi"
	"eventether/core/work"
)

// FormatPrefix and FormatNumber make the format line of a rig file: "eventether-rig/1".
const (
	FormatPrefix = "eventether-rig/"
	FormatNumber = 1
	Format       = "eventether-rig/1"
)

// Rig is one rig document: a show, the things, and the leads between them.
type Rig struct {
	Format string `json:"format" doc:"eventether-rig/1"`
	Name   string `json:"name" minLength:"1" maxLength:"120"`
	Notes  string `json:"notes,omitempty" maxLength:"4000"`
	Show   Show   `json:"show"`
	// Ceiling is the planning ceiling, the share of a limit that still counts as slack. Nil is 0.8 [practice].
	Ceiling *float64 `json:"ceiling,omitempty" minimum:"0.3" maximum:"1" doc:"Share of a limit that still counts as slack; 0.8 when not said"`
	Uplink  *Uplink  `json:"uplink,omitempty"`
	// WorkMinutes are one's own times by kind of work; what is not in it is taken from the table of core/work.
	WorkMinutes work.Times `json:"workMinutes,omitempty" doc:"One's own times in minutes, by kind of work: mount, plug, room and so on"`
	// Sound is how every voice gets to air; nobody has described it when it is missing.
	Sound *Sound `json:"sound,omitempty"`
	Items []Item `json:"items" maxItems:"2000"`
	Leads []Lead `json:"leads" maxItems:"4000"`
}

// Show is what must go to air.
type Show struct {
	Programme        Programme     `json:"programme"`
	Motion           string        `json:"motion,omitempty" enum:"still,talk,stage,play,sport" doc:"How much moves: still are slides, stage is music and theatre"`
	Minutes          float64       `json:"minutes" minimum:"1" maximum:"10080" doc:"Length of the show"`
	Date             string        `json:"date,omitempty" format:"date" doc:"Day of the show: what is ordered has to be there before"`
	StartsAt         string        `json:"startsAt,omitempty" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"Time of day it goes to air: the line is planned by measurements near it"`
	SetupMinutes     float64       `json:"setupMinutes,omitempty" minimum:"0" maximum:"10080"`
	RehearsalMinutes float64       `json:"rehearsalMinutes,omitempty" minimum:"0" maximum:"10080"`
	MainsHz          int           `json:"mainsHz,omitempty" enum:"50,60"`
	MainsVolts       *fact.Fact    `json:"mainsVolts,omitempty" doc:"230 at 50 Hz and 120 at 60 Hz when not said"`
	CircuitA         *fact.Fact    `json:"circuitA,omitempty" doc:"Rating of the circuit in amperes"`
	Angles           int           `json:"angles,omitempty" minimum:"1" maximum:"200" doc:"Pictures to cut between"`
	AnglesSelectable bool          `json:"anglesSelectable,omitempty" doc:"Each must be separately selectable in software"`
	Budget           *gear.Money   `json:"budget,omitempty"`
	Program          Program       `json:"program"`
	Also             []AlsoProgram `json:"also,omitempty" maxItems:"20" doc:"Programs that take pictures beside the main one"`
	Switching        string        `json:"switching,omitempty" enum:"helper,keys,pad,pedal,switcher" doc:"Who or what changes angles"`
	SoundFrom        string        `json:"soundFrom,omitempty" enum:"camera,switcher,computer,interface" doc:"Where the sound comes from"`
	GamePct          *fact.Fact    `json:"gamePct,omitempty" doc:"Share of the graphics processor a game or graphics work takes beside, percent; none when not said"`
	PreviewPct       *fact.Fact    `json:"previewPct,omitempty" doc:"Share of a layer one of the program's previews takes, percent; 2 to 30 when not said"`
	ScreenMpxS       *fact.Fact    `json:"screenMpxS,omitempty" doc:"Megapixels a second of the recording of the screen"`
	Layers           int           `json:"layers,omitempty" minimum:"1" maximum:"200" doc:"Sources on air at once, at most: 2 for a picture in a picture"`
	Layouts          []Layout      `json:"layouts,omitempty" maxItems:"20" doc:"Arrangements: which sources are seen together, and where"`
	Destinations     []Destination `json:"destinations" maxItems:"20"`
	Recordings       []Recording   `json:"recordings,omitempty" maxItems:"50"`
	Calls            []Call        `json:"calls,omitempty" maxItems:"50"`
	Besides          []string      `json:"besides,omitempty" maxItems:"3" enum:"virtual-camera,screen-recording,own-stream" doc:"What else this computer does during the show: give the programme to other programs as a camera, record its screen, play the stream it sends"`
}

// What else a computer may be made to do during a show.
const (
	VirtualCamera   = "virtual-camera"
	ScreenRecording = "screen-recording"
	OwnStream       = "own-stream"
)

// Programme is the size and rate the picture is composed at.
type Programme struct {
	Width  int          `json:"width" minimum:"160" maximum:"16384"`
	Height int          `json:"height" minimum:"120" maximum:"16384"`
	Rate   picture.Rate `json:"rate"`
}

// Program is the software that takes the pictures.
type Program struct {
	Kind string `json:"kind" enum:"encoder,browser-studio,destination-page,call"`
	Name string `json:"name,omitempty" maxLength:"120"`
}

// AlsoProgram is a program beside the main one, with the items whose pictures it takes.
type AlsoProgram struct {
	Kind  string   `json:"kind" enum:"encoder,browser-studio,destination-page,call"`
	Name  string   `json:"name,omitempty" maxLength:"120"`
	Takes []string `json:"takes" maxItems:"50" doc:"Item ids"`
}

// Destination is one place the sent picture goes.
type Destination struct {
	Name      string  `json:"name" minLength:"1" maxLength:"120"`
	Transport string  `json:"transport,omitempty" enum:"rtmp,srt,webrtc,hls" doc:"rtmp when not said"`
	Send      Send    `json:"send"`
	Ingest    *Ingest `json:"ingest,omitempty"`
	Backup    bool    `json:"backup,omitempty" doc:"The same goes to its backup ingest too: coded once, uploaded twice"`
	// Permission is whether its account may go live.
	Permission string `json:"permission,omitempty" enum:"yes,no" doc:"The account may go live; a step of the day before when not said"`
	// Held is what a minute at the full bitrate showed.
	Held string `json:"held,omitempty" enum:"yes,no,unknown" doc:"A minute at the full bitrate arrived there without frames lost"`
	Via  string `json:"via,omitempty" maxLength:"120" doc:"Name of the destination that passes it on: it takes no upload of its own"`
	// Window is the shape of what people see it in.
	Window string `json:"window,omitempty" enum:"as-sent,4:3,1:1,9:16,21:9" doc:"Shape of the window people see it in, which it fills and which cuts off the rest; any of them while nobody has looked"`
}

// Send is the sent picture and sound.
type Send struct {
	Width     int          `json:"width" minimum:"160" maximum:"16384"`
	Height    int          `json:"height" minimum:"120" maximum:"16384"`
	Rate      picture.Rate `json:"rate"`
	VideoKbps *fact.Fact   `json:"videoKbps,omitempty" doc:"The trade's starting value for the size and rate when not said"`
	AudioKbps *fact.Fact   `json:"audioKbps,omitempty" doc:"160 when not said"`
	Encoder   string       `json:"encoder,omitempty" enum:"hardware,ultrafast,superfast,veryfast,faster,fast,medium,slow" doc:"What codes it: hardware, or the preset of software H.264. The best the computer carries when not said"`
	Range     string       `json:"range,omitempty" enum:"limited,full" doc:"Colour range; limited when not said"`
	RangeSeen string       `json:"rangeSeen,omitempty" enum:"yes,no,unknown" doc:"Of full range: it was looked at at the far end, and is right there"`
}

// Ingest is what a destination accepts, and when that was last checked.
type Ingest struct {
	MaxWidth        int          `json:"maxWidth,omitempty" minimum:"0" maximum:"16384"`
	MaxHeight       int          `json:"maxHeight,omitempty" minimum:"0" maximum:"16384"`
	LandscapeOnly   bool         `json:"landscapeOnly,omitempty" doc:"It takes no picture that stands upright; else its largest size counts either way round"`
	MaxRate         picture.Rate `json:"maxRate,omitzero"`
	MaxVideoKbps    float64      `json:"maxVideoKbps,omitempty" minimum:"0" maximum:"1000000"`
	MinVideoKbps    *float64     `json:"minVideoKbps,omitempty" minimum:"0" maximum:"1000000" doc:"0: any, however little; nobody has looked when not said"`
	KeyframeSeconds float64      `json:"keyframeSeconds,omitempty" minimum:"0" maximum:"60" doc:"At most, unless keyframeExact"`
	KeyframeExact   bool         `json:"keyframeExact,omitempty" doc:"Keyframes have to come exactly so often, give or take a frame"`
	VideoCodecs     []string     `json:"videoCodecs,omitempty" maxItems:"20"`
	MaxAudioKbps    float64      `json:"maxAudioKbps,omitempty" minimum:"0" maximum:"10000"`
	Transports      []string     `json:"transports,omitempty" maxItems:"10" doc:"rtmp, srt, webrtc, hls; any usual one when not said"`
	MaxMinutes      *fact.Fact   `json:"maxMinutes,omitempty" doc:"Longest broadcast it takes"`
	GraceSeconds    float64      `json:"graceSeconds,omitempty" minimum:"0" maximum:"3600" doc:"How long it waits for a stream that broke off"`
	CheckedOn       string       `json:"checkedOn,omitempty" format:"date"`
}

// Least is the least video bitrate it takes, kb/s; known is false while nobody has looked.
func (in *Ingest) Least() (kbps float64, known bool) {
	if in == nil || in.MinVideoKbps == nil {
		return 0, false
	}
	return *in.MinVideoKbps, true
}

// Recording is something kept.
type Recording struct {
	What      string     `json:"what" maxLength:"120" doc:"programme, or the id of an item"`
	InCamera  bool       `json:"inCamera,omitempty" doc:"Recorded in the camera itself"`
	Restarts  bool       `json:"restarts,omitempty" doc:"Stopped and started again before the camera ends it by itself"`
	Width     int        `json:"width,omitempty" minimum:"0" maximum:"16384"`
	Height    int        `json:"height,omitempty" minimum:"0" maximum:"16384"`
	Quality   float64    `json:"quality,omitempty" minimum:"0" maximum:"51" doc:"Constant quality, 16 to 20 as a rule, smaller is better and larger; by the length of the show when not said"`
	Container string     `json:"container,omitempty" enum:"fmp4,mkv,mp4,mov"`
	Drive     string     `json:"drive,omitempty" maxLength:"60" doc:"Item id of the drive; the computer's own when not said"`
	Encoder   string     `json:"encoder,omitempty" enum:"hardware,ultrafast,superfast,veryfast,faster,fast,medium,slow,stream" doc:"As for what is sent; stream keeps the sent picture as it was coded"`
	Kbps      *fact.Fact `json:"kbps,omitempty" doc:"Its bitrate as a test recording showed, size × 8 ÷ time"`
	DriftPPM  *fact.Fact `json:"driftPpm,omitempty" doc:"How far its clock is from the program's, parts per million"`
	Resynced  string     `json:"resynced,omitempty" enum:"yes,no" doc:"It is set right against the others' sound afterwards, or runs by a common clock"`
	Tracks    int        `json:"tracks,omitempty" minimum:"0" maximum:"16" doc:"Separate sound tracks"`
	RawBits   int        `json:"rawBits,omitempty" minimum:"0" maximum:"16" doc:"Recorded raw in the camera, so many bits a pixel"`
	RawRatio  float64    `json:"rawRatio,omitempty" minimum:"0" maximum:"100" doc:"What raw is compressed by: 8 for 8:1; 1 when not said"`
}

// Call is people who join from elsewhere; they use uplink too.
type Call struct {
	Name     string     `json:"name,omitempty" maxLength:"120"`
	UpKbps   *fact.Fact `json:"upKbps,omitempty"`
	DownKbps *fact.Fact `json:"downKbps,omitempty" doc:"What comes in of it, in all"`
	DownMpxS *fact.Fact `json:"downMpxS,omitempty" doc:"Megapixels a second of what comes in of it, in all"`
	Persons  int        `json:"persons,omitempty" minimum:"0" maximum:"500" doc:"People whose pictures come in"`
}

// Uplink is what the line to the outside sustains.
type Uplink struct {
	MeasuredMbps []UplinkReading `json:"measuredMbps,omitempty" maxItems:"1000"`
	EstimateMbps *fact.Fact      `json:"estimateMbps,omitempty" doc:"Used while nothing is measured"`
	LossPct      *fact.Fact      `json:"lossPct,omitempty" doc:"Packets it loses on the way out, percent"`
	RTTMs        *fact.Fact      `json:"rttMs,omitempty" doc:"Round trip to the ingest, milliseconds"`
	Whose        string          `json:"whose,omitempty" enum:"own,limited,venue,phone" doc:"One's own line, with or without a data allowance, a venue's network, a phone's"`
	TriedThere   string          `json:"triedThere,omitempty" enum:"yes,no,unknown" doc:"Of a venue's network: a minute was sent to the real ingest from the place"`
	AllowanceGB  *fact.Fact      `json:"allowanceGB,omitempty" doc:"What is left of its data allowance; none when not said, but of a phone's"`
	SecondMbps   *fact.Fact      `json:"secondMbps,omitempty" doc:"What a second line sends, such as a phone"`
	SecondTakes  float64         `json:"secondTakes,omitempty" minimum:"0" maximum:"600" doc:"Minutes to change over to the second line"`
	DownMbps     *fact.Fact      `json:"downMbps,omitempty" doc:"What the line brings in; at least what it sends while nobody has said"`
}

// UplinkReading is one measurement at one time.
type UplinkReading struct {
	Value float64 `json:"value" minimum:"0" maximum:"100000"`
	At    string  `json:"at,omitempty" format:"date-time"`
	By    string  `json:"by,omitempty" enum:"wired,air" doc:"How it was measured: by cable, or over the air"`
	Least bool    `json:"least,omitempty" doc:"What was sent did not fill the line: it carries at least that"`
}

// Sound is how voices get to air.
type Sound struct {
	Paths        []SoundPath `json:"paths" maxItems:"60"`
	Loudspeakers string      `json:"loudspeakers,omitempty" enum:"yes,no,unknown" doc:"Loudspeakers are on in the room during the show"`
	Monitor      string      `json:"monitor,omitempty" enum:"none,direct,program" doc:"What the speaker hears himself by: the input itself, or the program's delayed sound"`
	TargetLUFS   float64     `json:"targetLufs,omitempty" minimum:"-40" maximum:"0" doc:"Loudness of the programme; -15 for online talk when not said, -23 for broadcast"`
}

// SoundPath is one way of one voice, from where it is picked up.
type SoundPath struct {
	Voice      string     `json:"voice" minLength:"1" maxLength:"120" doc:"Whose voice, or which sound"`
	From       string     `json:"from" maxLength:"60" doc:"Item id of what picks it up, or plays it: a microphone, a camera, a phone, a computer"`
	Via        []string   `json:"via,omitempty" maxItems:"10" doc:"Item ids it goes through to the program, in order"`
	Input      int        `json:"input,omitempty" minimum:"1" maximum:"64" doc:"Number of the input it goes into, of the first thing on its way that has some; the first that is free when not said"`
	On         string     `json:"on,omitempty" enum:"air,muted,track" doc:"track: recorded on a track of its own and not on air. The nearest one of a voice is proposed for air, the others muted"`
	Loud       string     `json:"loud,omitempty" enum:"calm,raised,loud" doc:"How loud the voice is"`
	DistanceM  *fact.Fact `json:"distanceM,omitempty" doc:"From the mouth to the microphone"`
	Pad        string     `json:"pad,omitempty" enum:"yes,no" doc:"A pad or attenuator brings a line down to what a microphone socket takes"`
	Middle     string     `json:"middle,omitempty" enum:"yes,no,unknown" doc:"It is heard in the middle, not on one side, and in mono too"`
	Hum        string     `json:"hum,omitempty" enum:"yes,no,unknown" doc:"It hums in pauses"`
	NextM      *fact.Fact `json:"nextM,omitempty" doc:"From the mouth to the nearest other open microphone"`
	NoiseDB    *fact.Fact `json:"noiseDb,omitempty" doc:"How far the noise in pauses lies under mean speech, by a test recording"`
	OneLeg     string     `json:"oneLeg,omitempty" enum:"yes,no,unknown" doc:"The lead from a balanced output into a 3.5 mm socket carries one leg only"`
	GainDB     *float64   `json:"gainDb,omitempty" minimum:"-30" maximum:"90" doc:"Gain as it is set; as planned when not said"`
	HeadroomDB *fact.Fact `json:"headroomDb,omitempty" doc:"How far the loudest peaks stay under full scale, off a meter"`
	DelayMs    *float64   `json:"delayMs,omitempty" minimum:"0" maximum:"5000" doc:"What the program delays it by; as planned when not said"`
	OffsetMs   *fact.Fact `json:"offsetMs,omitempty" doc:"How late the sound is against the picture with that delay, by a clap test; early is below zero"`
}

// Item is one thing in the rig with a copy of its spec sheet.
type Item struct {
	ID    string    `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" maxLength:"60"`
	Label string    `json:"label" minLength:"1" maxLength:"120"`
	Shelf *ShelfRef `json:"shelf,omitempty"`
	Gear  gear.Gear `json:"gear"`
	Role  string    `json:"role,omitempty" enum:"host,source" doc:"Of a computer: host takes the pictures, source gives one"`
	Set   *Set      `json:"set,omitempty"`
	Owned *bool     `json:"owned,omitempty" doc:"It is there; false: it has to be bought or borrowed"`
	// Borrowed is for what is there and goes back: it costs nothing, and striking the set gives it back.
	Borrowed bool `json:"borrowed,omitempty" doc:"It is borrowed, and goes back"`
	// PoweredBy is what it gets its power from when that is not the USB socket it is plugged into.
	PoweredBy string      `json:"poweredBy,omitempty" maxLength:"60" doc:"Item id of its strip, UPS, supply or power bank"`
	Price     *gear.Money `json:"price,omitempty"`
	// Arrives is the day it was ordered for.
	Arrives string `json:"arrives,omitempty" format:"date" doc:"Ordered, and there on this day"`
}

// ShelfRef says which revision of which shelf entry the spec sheet was copied from.
type ShelfRef struct {
	ID       string `json:"id" maxLength:"60"`
	Revision int    `json:"revision" minimum:"1"`
}

// Set is how a thing is set for this show.
type Set struct {
	Output      map[string]picture.Mode `json:"output,omitempty" doc:"The picture each output port is set to, by port id"`
	Deliver     map[string]Deliver      `json:"deliver,omitempty" doc:"What the program takes from each upstream port, by port id"`
	InfoDisplay string                  `json:"infoDisplay,omitempty" enum:"on,off" doc:"Information display on the picture output"`
	RunsOn      string                  `json:"runsOn,omitempty" enum:"battery,mains,usb,grip" doc:"usb: power by USB from poweredBy. grip: two batteries in a grip. battery when it has one and nothing is said"`
	Settings    map[string]string       `json:"settings,omitempty" doc:"How the settings of its sheet stand, by id"`
	Upright     bool                    `json:"upright,omitempty" doc:"The device is turned upright"`
	Protection  string                  `json:"protection,omitempty" enum:"on,off" doc:"Encryption of its picture output"`
	Shutter     picture.Exposure        `json:"shutter,omitzero"`
	Spares      int                     `json:"spares,omitempty" minimum:"0" maximum:"50" doc:"Charged batteries to change to"`
	Undisturbed map[string]string       `json:"undisturbed,omitempty" doc:"Of the computer that takes the pictures: sleep, updates, notices, each on or off; off is proposed"`
	Touched     bool                    `json:"touched,omitempty" doc:"Somebody touches it in time, before it falls asleep"`
}

// Deliver is the picture the program takes from a capture device.
type Deliver struct {
	Format picture.Format `json:"format" enum:"NV12,I420,YUY2,UYVY,RGB24,BGRA,P010,v210,MJPEG,H.264"`
	Width  int            `json:"width,omitempty" minimum:"0" maximum:"16384"`
	Height int            `json:"height,omitempty" minimum:"0" maximum:"16384"`
	Rate   picture.Rate   `json:"rate,omitzero"`
}

// Lead joins two sockets; From is the end nearer the lens, To the end nearer the computer.
type Lead struct {
	ID      string    `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" maxLength:"60"`
	From    string    `json:"from" doc:"item.port of the end nearer the lens"`
	To      string    `json:"to" doc:"item.port of the end nearer the computer"`
	Grade   string    `json:"grade" doc:"HDMI: standard, high-speed, premium, ultra, active, optical, unknown. SDI: rg-6, rg-59, rg-179, coax, fibre. USB: usb-charge, usb-2, usb-5g, usb-10g, usb-20g, usb-40g, usb-unknown"`
	LengthM fact.Fact `json:"lengthM" doc:"Metres; 0 for a device that plugs straight in"`
	// SpanM is the distance that has to be bridged; a lead may be shorter than it is now, never shorter than this.
	SpanM *fact.Fact `json:"spanM,omitempty" doc:"Metres that have to be bridged"`
	// AnySocket leaves the choice of the socket open: the best one is proposed, and To is where its plug stands until
	// then.
	AnySocket bool   `json:"anySocket,omitempty" doc:"Of a USB device's lead: nobody has chosen the socket at the computer's end; the best one is proposed"`
	Thin      *bool  `json:"thin,omitempty" doc:"A thin lead made for small sockets"`
	Tried     *Tried `json:"tried,omitempty" doc:"What happened when this very lead was tried"`
	// Direction is which way round an active or optical lead lies.
	Direction string     `json:"direction,omitempty" enum:"right,wrong" doc:"Of an active or optical lead: its source end is at the source, or not"`
	OverWalk  string     `json:"overWalk,omitempty" enum:"yes,no" doc:"It lies where people walk: it is taped down along its whole way"`
	AWG       *fact.Fact `json:"awg,omitempty" doc:"Wire gauge of the power wires in a USB lead, as printed: 28 is thin, 20 is thick"`
	// ContactsOhm is what the contacts of both plugs of a USB lead add to its loop.
	ContactsOhm *fact.Fact  `json:"contactsOhm,omitempty" doc:"Ohms the contacts of both plugs of a USB lead add to its loop"`
	Adapters    int         `json:"adapters,omitempty" minimum:"0" maximum:"10" doc:"Adapters in the lead: each is a joint that can work loose"`
	Loss        []sdi.Point `json:"loss,omitempty" maxItems:"30" doc:"Points of a coax lead's data sheet"`
	ReachM      *fact.Fact  `json:"reachM,omitempty" doc:"Metres its maker promises for this lead's kind"`
}

// Tried records a trial of a lead at a character rate.
type Tried struct {
	MHz   float64 `json:"mhz" minimum:"1" maximum:"12000" doc:"Character rate of HDMI; half the bit rate of SDI"`
	Holds bool    `json:"holds"`
	At    string  `json:"at,omitempty"`
}

// SplitRef splits "item.port".
func SplitRef(ref string) (item, port string) {
	item, port, _ = strings.Cut(ref, ".")
	return item, port
}

// Item finds an item by id; nil when there is none.
func (r *Rig) Item(id string) *Item {
	for i := range r.Items {
		if r.Items[i].ID == id {
			return &r.Items[i]
		}
	}
	return nil
}

// Lead finds a lead by id; nil when there is none.
func (r *Rig) Lead(id string) *Lead {
	for i := range r.Leads {
		if r.Leads[i].ID == id {
			return &r.Leads[i]
		}
	}
	return nil
}

// LeadIn is the lead in a socket such as "pc.front-left"; nil where it is free.
func (r *Rig) LeadIn(ref string) *Lead {
	for i := range r.Leads {
		if l := &r.Leads[i]; l.From == ref || l.To == ref {
			return l
		}
	}
	return nil
}

// Port finds the port a reference such as "pc.front-left" names; nils when there is none.
func (r *Rig) Port(ref string) (*Item, *gear.Port) {
	id, port := SplitRef(ref)
	it := r.Item(id)
	if it == nil {
		return nil, nil
	}
	if i := it.Gear.Port(port); i >= 0 {
		return it, &it.Gear.Ports[i]
	}
	return it, nil
}

// Host is the computer that takes the pictures; nil when there is none.
func (r *Rig) Host() *Item {
	for i := range r.Items {
		if r.Items[i].IsHost() {
			return &r.Items[i]
		}
	}
	return nil
}

// IsHost tells whether the item is a computer that takes pictures.
func (it *Item) IsHost() bool { return it.Gear.Kind == gear.Computer && it.Role != "source" }

// IsSource tells whether a picture begins at the item.
func (it *Item) IsSource() bool {
	return it.Gear.Kind.Shoots() || it.Gear.Kind == gear.Computer && it.Role == "source"
}

// PlanningCeiling is the share of a limit that still counts as slack.
func (r *Rig) PlanningCeiling() float64 {
	if r.Ceiling != nil {
		return *r.Ceiling
	}
	return 0.8
}

// PortName is a port as people say it: its label, or its id with blanks.
func PortName(p *gear.Port) string {
	if p.Label != "" {
		return p.Label
	}
	switch p.ID {
	case "hdmi", "usb", "sdi":
		return strings.ToUpper(p.ID)
	}
	return strings.ReplaceAll(p.ID, "-", " ")
}
