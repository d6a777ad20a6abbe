package media

import (
	"io"
	"math"
	"os"
	"slices"
	"strings"

	"github.com/abema/go-mp4"

	"eventether/core/inspect"
	"eventether/core/lang"
	"eventether/core/look"
)

// mostBoxes are read of a file, which may have two for every second of it.
const mostBoxes = 200_000

// boxesOf are the kinds of the outermost boxes of a file of the MP4 kind; whole is false where the last of them ends beyond the
// file, or something else follows.
func boxesOf(f io.ReadSeeker, length int64) (kinds []string, whole bool) {
	for at := int64(0); at < length && len(kinds) < mostBoxes; {
		if _, err := f.Seek(at, io.SeekStart); err != nil {
			return kinds, false
		}
		b, err := mp4.ReadBoxInfo(f)
		if err != nil || b.Size < b.HeaderSize || b.Size > math.MaxInt64/2 {
			return kinds, false
		}
		kinds = append(kinds, b.Type.String())
		if at += int64(b.Size); at > length {
			return kinds, false
		}
	}
	return kinds, true
}

// container says what kind of file it is, whether it is all there, and whether it would be after a crash. format and brand are
// what ffprobe calls it, timed whether it says how long it lasts. broken is a reason it cannot be played at all, none where it
// may.
func container(path, format, brand string, timed bool) (kind string, w *inspect.Whole, broken string) {
	w = &inspect.Whole{Safe: look.CannotTell, Ends: look.CannotTell}
	f, err := os.Open(path)
	if err != nil {
		return "other", w, ""
	}
	defer f.Close()
	st, err := f.Stat()
	if err != nil {
		return "other", w, ""
	}
	var head [12]byte
	n, _ := f.ReadAt(head[:], 0)
	switch mp4 := n >= 8 && slices.Contains([]string{"ftyp", "moov", "mdat", "wide", "free", "skip", "styp"}, string(head[4:8])); {
	case strings.HasPrefix(format, "mov,") || format == "" && mp4:
		return ofBoxes(f, st.Size(), brand)
	case strings.HasPrefix(format, "matroska"):
		kind = "mkv"
		w.Safe, w.Ends = look.Found, look.Clear
		w.Says = lang.Text("Matroska can be played up to the last moments; this one was never closed: it has no length and no index.")
		if timed {
			w.Ends, w.Says = look.Found, lang.Text("Matroska can be played up to the last moments after a crash.")
		}
	case format == "mpegts":
		kind, w.Safe = "mpegts", look.Found
		w.Says = lang.Text("A transport stream can be played from any place to any other.")
	case format == "flv":
		kind, w.Safe, w.Ends = "flv", look.Found, look.Clear
		w.Says = lang.Text("FLV can be played up to the last moments; this one was never closed.")
		if timed {
			w.Ends, w.Says = look.Found, lang.Text("FLV can be played up to the last moments after a crash.")
		}
	default:
		kind = "other"
	}
	return kind, w, ""
}

// ofBoxes is container for files of the MP4 kind.
func ofBoxes(f *os.File, length int64, brand string) (kind string, w *inspect.Whole, broken string) {
	w = &inspect.Whole{Safe: look.Clear, Ends: look.Found}
	boxes, whole := boxesOf(f, length)
	parts := slices.Contains(boxes, "moof")
	kind = "mp4"
	if strings.HasPrefix(brand, "qt") {
		kind = "mov"
	}
	switch {
	case parts:
		kind, w.Safe = "fmp4", look.Found
		w.Says = lang.Text("Fragmented: it can be played up to the last fragment after a crash.")
		if !whole {
			w.Ends, w.Says = look.Clear, lang.Text("Fragmented, and it breaks off within the last fragment: all before that can be played.")
		}
	case !slices.Contains(boxes, "moov"):
		w.Ends = look.Clear
		broken = lang.Text("it was never closed: the index a plain MP4 ends with is missing, and nothing of it can be played as it is. Record as fragmented MP4 or Matroska, and this cannot happen.")
	default:
		w.Says = lang.Text("Plain: had power or program failed, everything since its start would be lost. Record as fragmented MP4 or Matroska.")
		if !whole {
			w.Ends, w.Says = look.Clear, lang.Text("Its end is missing: it was cut off, or not copied whole.")
		}
	}
	return kind, w, broken
}
