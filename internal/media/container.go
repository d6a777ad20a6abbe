package media

import (
	"encoding/binary"
	"io"
	"os"
	"slices"
	"strings"

	"eventether/core/inspect"
	"eventether/core/lang"
	"eventether/core/look"
)

// box is one of the boxes a file of the MP4 kind is made of [standard: ISO/IEC 14496-12, from memory].
type box struct {
	kind string
	at   int64
	size int64
}

// mostBoxes are read of a file, which may have two for every second of it.
const mostBoxes = 200_000

// boxesOf are the outermost boxes of a file; whole is false where the last of them ends beyond the file, or begins with
// something else.
func boxesOf(f io.ReaderAt, length int64) (out []box, whole bool) {
	var head [16]byte
	for at := int64(0); at < length && len(out) < mostBoxes; {
		if at+8 > length {
			return out, false
		}
		if _, err := f.ReadAt(head[:8], at); err != nil {
			return out, false
		}
		size := int64(binary.BigEndian.Uint32(head[:]))
		kind := string(head[4:8])
		switch size {
		case 0:
			size = length - at
		case 1:
			if _, err := f.ReadAt(head[8:16], at+8); err != nil {
				return out, false
			}
			size = int64(binary.BigEndian.Uint64(head[8:]))
		}
		if size < 8 || at+size < at {
			return out, false
		}
		out = append(out, box{kind, at, size})
		if at+size > length {
			return out, false
		}
		at += size
	}
	return out, true
}

func has(boxes []box, kind string) bool {
	return slices.ContainsFunc(boxes, func(b box) bool { return b.kind == kind })
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
	parts := has(boxes, "moof")
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
	case !has(boxes, "moov"):
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
