package picture

import "strconv"

// Chroma is how colour is sampled on a link.
type Chroma string

// The chroma samplings of HDMI and SDI links.
const (
	RGB     Chroma = "rgb"
	YUV444  Chroma = "4:4:4"
	YUV422  Chroma = "4:2:2"
	YUV420  Chroma = "4:2:0"
	NotSaid Chroma = ""
)

// Mode is one picture on a link: size, exact frame rate, scan, chroma and bits per component. For interlaced pictures
// Rate counts frames (two fields each): 1080i at 59.94 fields a second has Rate 30000/1001.
type Mode struct {
	Width      int  `json:"width" minimum:"16" maximum:"16384" doc:"Pixels in a line"`
	Height     int  `json:"height" minimum:"16" maximum:"16384" doc:"Lines in a frame"`
	Rate       Rate `json:"rate" doc:"Frames a second as an exact fraction, 30000/1001 and never 29.97"`
	Interlaced bool `json:"interlaced,omitempty" doc:"Two fields a frame; rate still counts frames"`
	// Inner is the true rate of movement when the link carries another: 24 frames in 60 by pulldown, 25 in 50
	// segmented.
	Inner  Rate   `json:"inner,omitzero" doc:"Frames a second inside, when others than the link's, by pulldown or segmented frames"`
	Chroma Chroma `json:"chroma,omitempty" enum:"rgb,4:4:4,4:2:2,4:2:0" doc:"Colour sampling; rgb when not said"`
	Bits   int    `json:"bits,omitempty" enum:"8,10,12,16" doc:"Bits a component; 8 when not said"`
}

// Same tells whether two modes are the same size, rate and scan; chroma and depth are settled by the link.
func (m Mode) Same(o Mode) bool {
	return m.Width == o.Width && m.Height == o.Height && m.Rate == o.Rate && m.Interlaced == o.Interlaced
}

// Depth is the bits a component, 8 when not said.
func (m Mode) Depth() int {
	if m.Bits == 0 {
		return 8
	}
	return m.Bits
}

// Name is what people say: 1080p29.97, 1080i25, 720p60, 3440×1440 at 60.
func (m Mode) Name() string {
	scan := "p"
	if m.Interlaced {
		scan = "i"
	}
	if name := lines(m.Width, m.Height); name != "" {
		return name + scan + m.Rate.Name()
	}
	return SizeName(m.Width, m.Height) + " " + scan + m.Rate.Name()
}

// SizeName is 1920×1080.
func SizeName(w, h int) string { return strconv.Itoa(w) + "×" + strconv.Itoa(h) }

func lines(w, h int) string {
	switch [2]int{w, h} {
	case [2]int{720, 480}, [2]int{720, 576}, [2]int{1280, 720}, [2]int{1920, 1080}, [2]int{3840, 2160}:
		return strconv.Itoa(h)
	}
	return ""
}
