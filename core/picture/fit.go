package picture

// How says what is done with a picture that has not the shape of the frame it goes into.
type How string

// Box keeps all of it between borders, Crop fills the frame and loses what hangs over, Stretch pulls it to the frame's
// shape, Refuse shows nothing. UnknownHow has to be tried.
const (
	Box        How = "box"
	Crop       How = "crop"
	Stretch    How = "scale"
	Refuse     How = "refuse"
	UnknownHow How = "unknown"
)

// Hows lists what a document may name.
var Hows = []How{Box, Crop, Stretch, Refuse, UnknownHow}

// Rect is a part of a frame, in shares of its width and height from the top left.
type Rect struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Whole is all of a frame.
var Whole = Rect{0, 0, 1, 1}

// Fitted is a picture in a frame: At is the part of the frame it covers, Shows the part of the picture that is seen,
// Enlarged how many times each of its pixels is enlarged (below 1 it is made smaller).
type Fitted struct {
	At       Rect
	Shows    Rect
	Enlarged float64
}

// Aspect is the shape a picture is shown in: width over height. Television's 720 × 480 and 720 × 576 have pixels that
// are not square and are shown as 4:3 [practice; a wide one has to say so itself].
func Aspect(w, h int) float64 {
	if w == 720 && (h == 480 || h == 576) {
		return 4.0 / 3
	}
	return float64(w) / float64(h)
}

// Fit puts a picture of w × h pixels into a frame.
func Fit(w, h, frameW, frameH int, how How) Fitted {
	shape, frame := Aspect(w, h), float64(frameW)/float64(frameH)
	f := Fitted{At: Whole, Shows: Whole, Enlarged: float64(frameH) / float64(h)}
	ratio := shape / frame // above 1: wider than the frame
	switch {
	case ratio == 1 || how == Stretch:
		f.Enlarged = max(float64(frameW)/float64(w), float64(frameH)/float64(h))
	case how == Crop && ratio > 1:
		f.Shows = Rect{(1 - 1/ratio) / 2, 0, 1 / ratio, 1}
	case how == Crop:
		f.Shows = Rect{0, (1 - ratio) / 2, 1, ratio}
		f.Enlarged = float64(frameW) / float64(w)
	case ratio > 1:
		f.At = Rect{0, (1 - 1/ratio) / 2, 1, 1 / ratio}
		f.Enlarged = float64(frameW) / float64(w)
	default:
		f.At = Rect{(1 - ratio) / 2, 0, ratio, 1}
	}
	return f
}

// Within is a part of a part: where r, given in shares of outer, lies in the frame outer is given in.
func (r Rect) Within(outer Rect) Rect {
	return Rect{outer.X + r.X*outer.W, outer.Y + r.Y*outer.H, r.W * outer.W, r.H * outer.H}
}

// Television tells whether a size is one of television's, which lists of pictures name one by one; any other is odd to
// most devices.
func Television(w, h int) bool {
	switch [2]int{w, h} {
	case [2]int{720, 480}, [2]int{720, 576}, [2]int{640, 480}, [2]int{1280, 720}, [2]int{1920, 1080},
		[2]int{3840, 2160}, [2]int{4096, 2160}:
		return true
	}
	return false
}
