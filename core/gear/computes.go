package gear

import "eventether/core/fact"

// Computes is what a computer can do, in millions of pixels a second for the whole machine unless said otherwise:
// measured on it, entered, or left out where its class has to do.
type Computes struct {
	EncodeMpxS      *fact.Fact `json:"encodeMpxS,omitempty" doc:"Software H.264 at veryfast; a hard and an easy moving picture are its bounds"`
	MJPEGMpxS       *fact.Fact `json:"mjpegMpxS,omitempty" doc:"Decoding MJPEG"`
	H264MpxS        *fact.Fact `json:"h264MpxS,omitempty" doc:"Decoding H.264"`
	ConvertMpxS     *fact.Fact `json:"convertMpxS,omitempty" doc:"Converting pixel formats"`
	ScaleMpxS       *fact.Fact `json:"scaleMpxS,omitempty" doc:"Scaling, by the pixels that go in"`
	DeinterlaceMpxS *fact.Fact `json:"deinterlaceMpxS,omitempty"`
	ComposeMpxS     *fact.Fact `json:"composeMpxS,omitempty" doc:"Composing on the graphics processor, every layer counted"`
	MemoryGBps      *fact.Fact `json:"memoryGBps,omitempty" doc:"Memory traffic, gigabytes a second"`
	IdleShare       *fact.Fact `json:"idleShare,omitempty" doc:"Share of the processor the system and what else is open take, 0 to 1"`

	UltrafastMpxS *fact.Fact `json:"ultrafastMpxS,omitempty" doc:"Software H.264 at this preset; by its usual relation to veryfast when not said"`
	SuperfastMpxS *fact.Fact `json:"superfastMpxS,omitempty"`
	FasterMpxS    *fact.Fact `json:"fasterMpxS,omitempty"`
	FastMpxS      *fact.Fact `json:"fastMpxS,omitempty"`
	MediumMpxS    *fact.Fact `json:"mediumMpxS,omitempty"`
	SlowMpxS      *fact.Fact `json:"slowMpxS,omitempty"`

	OwnMpxS *fact.Fact `json:"ownMpxS,omitempty" doc:"What programs code that code as they like: a browser, a call"`

	Hardware         string     `json:"hardware,omitempty" maxLength:"120" doc:"A hardware H.264 encoder that opens, as programs list it; none when empty"`
	HardwareMpxS     *fact.Fact `json:"hardwareMpxS,omitempty" doc:"What it codes, all its streams together"`
	HardwareSessions *fact.Fact `json:"hardwareSessions,omitempty" doc:"Streams it codes at once"`

	Measured *Measured `json:"measured,omitempty" doc:"When and how the figures were measured"`
}

// AtPreset is where the speed of a preset of software H.264 is kept; nil for a preset nobody uses live.
func (c *Computes) AtPreset(name string) **fact.Fact {
	switch name {
	case "ultrafast":
		return &c.UltrafastMpxS
	case "superfast":
		return &c.SuperfastMpxS
	case "veryfast":
		return &c.EncodeMpxS
	case "faster":
		return &c.FasterMpxS
	case "fast":
		return &c.FastMpxS
	case "medium":
		return &c.MediumMpxS
	case "slow":
		return &c.SlowMpxS
	}
	return nil
}

// Measured says when a computer was measured, and under which conditions.
type Measured struct {
	At       string `json:"at" format:"date"`
	On       string `json:"on,omitempty" enum:"mains,battery,unknown"`
	Load     string `json:"load,omitempty" maxLength:"200" doc:"What else it was busy with"`
	Slowdown string `json:"slowdown,omitempty" maxLength:"200" doc:"How much slower the last third of the run was than the first"`
	Host     string `json:"host,omitempty" maxLength:"120" doc:"The computer it was measured on, as it calls itself"`
}

// Class is the kind of a computer, where nobody has measured it.
type Class string

// The classes; Laptop and Desktop are any of them.
const (
	Laptop       Class = "laptop"
	SmallLaptop  Class = "small-laptop"
	GoodLaptop   Class = "good-laptop"
	DesktopClass Class = "desktop"
	MidDesktop   Class = "mid-desktop"
	LargeDesktop Class = "large-desktop"
)

// Classes lists those that say something, the slowest first.
var Classes = []Class{SmallLaptop, GoodLaptop, MidDesktop, LargeDesktop}

func est3(low, value, high float64) *fact.Fact { return factOf(fact.Est(value, low, high)) }

// classes are what computers can do before anyone measures [estimate]. One core decodes 120 to 400
// Mpx/s of MJPEG, a machine three to six times that on a desktop and two to five on a laptop; H.264 one to two times as
// fast; scaling and conversion 500 to 2000 a core, held back by memory from some four cores on.
var classes = map[Class]Computes{
	SmallLaptop: {EncodeMpxS: est3(60, 100, 200), MJPEGMpxS: est3(240, 500, 1200), H264MpxS: est3(240, 700, 2400),
		ConvertMpxS: est3(1000, 2000, 4000), ScaleMpxS: est3(1000, 1500, 4000),
		DeinterlaceMpxS: est3(400, 500, 1500), ComposeMpxS: est3(2500, 4000, 10000), MemoryGBps: est3(15, 20, 30)},
	GoodLaptop: {EncodeMpxS: est3(150, 250, 400), MJPEGMpxS: est3(360, 900, 2000), H264MpxS: est3(360, 1400, 4000),
		ConvertMpxS: est3(1500, 3000, 6000), ScaleMpxS: est3(1500, 2500, 6000),
		DeinterlaceMpxS: est3(500, 1000, 3000), ComposeMpxS: est3(2500, 5000, 20000), MemoryGBps: est3(20, 30, 50)},
	MidDesktop: {EncodeMpxS: est3(250, 400, 700), MJPEGMpxS: est3(360, 1200, 2400), H264MpxS: est3(360, 1800, 4800),
		ConvertMpxS: est3(2000, 4000, 8000), ScaleMpxS: est3(2000, 3500, 8000),
		DeinterlaceMpxS: est3(800, 1500, 4000), ComposeMpxS: est3(2500, 8000, 30000), MemoryGBps: est3(30, 45, 80)},
	LargeDesktop: {EncodeMpxS: est3(600, 900, 1500), MJPEGMpxS: est3(600, 2000, 4800), H264MpxS: est3(600, 3000, 9600),
		ConvertMpxS: est3(3000, 6000, 12000), ScaleMpxS: est3(3000, 5000, 12000),
		DeinterlaceMpxS: est3(1000, 2500, 8000), ComposeMpxS: est3(5000, 12000, 40000), MemoryGBps: est3(40, 60, 80)},
}

func init() {
	join := func(slow, fast Class) Computes {
		a, b := classes[slow], classes[fast]
		span := func(x, y *fact.Fact) *fact.Fact { return est3(x.Low, (x.Value+y.Value)/2, y.High) }
		return Computes{EncodeMpxS: span(a.EncodeMpxS, b.EncodeMpxS), MJPEGMpxS: span(a.MJPEGMpxS, b.MJPEGMpxS),
			H264MpxS: span(a.H264MpxS, b.H264MpxS), ConvertMpxS: span(a.ConvertMpxS, b.ConvertMpxS),
			ScaleMpxS: span(a.ScaleMpxS, b.ScaleMpxS), DeinterlaceMpxS: span(a.DeinterlaceMpxS, b.DeinterlaceMpxS),
			ComposeMpxS: span(a.ComposeMpxS, b.ComposeMpxS), MemoryGBps: span(a.MemoryGBps, b.MemoryGBps)}
	}
	classes[Laptop], classes[DesktopClass], classes[""] = join(SmallLaptop, GoodLaptop),
		join(MidDesktop, LargeDesktop), join(SmallLaptop, LargeDesktop)
}

// ByClass is what computers of a class can do; of any computer where the class is not said. All its figures are
// estimates, and none of it may be changed.
func ByClass(c Class) *Computes {
	got, ok := classes[c]
	if !ok {
		got = classes[""]
	}
	return &got
}

// DefaultIdle is the share of the processor that the system and idle programs take, and DefaultHardware what a hardware
// encoder does [estimate].
var (
	DefaultIdle     = fact.Est(0.15, 0.1, 0.25)
	DefaultHardware = fact.Est(500, 250, 1500)
	DefaultSessions = fact.Est(3, 2, 8)
	// DefaultWrite is what a drive writes for long, MB/s: from a flash stick to a solid-state drive [estimate];
	// DefaultInner the drive inside a computer, which is no flash stick.
	DefaultWrite = fact.Est(150, 5, 500)
	DefaultInner = fact.Est(250, 80, 500)
	// DefaultFree is what is free on a drive nobody has looked at, GB [estimate].
	DefaultFree = fact.Est(200, 0, 4000)
	// DefaultCard is what a camera's card with no mark writes, MB/s: class 4 to V90 [estimate; classes by SD
	// Association speed classes].
	DefaultCard = fact.Est(30, 4, 90)
)
