package media

import (
	"strconv"
	"strings"

	"github.com/bluenviron/mediacommon/v2/pkg/codecs/h264"

	"eventether/core/inspect"
)

// VideoOf is what a sequence parameter set of H.264 says; ok is false of one that cannot be read.
func VideoOf(sps []byte) (v *inspect.Video, ok bool) {
	var s h264.SPS
	if len(sps) == 0 || s.Unmarshal(sps) != nil {
		return nil, false
	}
	v = &inspect.Video{Codec: "h264", Profile: profileOf(&s), Level: levelOf(int(s.LevelIdc)), Width: s.Width(), Height: s.Height(), DeclaredHz: s.FPS(),
		References: int(s.MaxNumRefFrames), Chroma: "4:2:0", Bits: 8 + int(s.BitDepthLumaMinus8), Interlaced: !s.FrameMbsOnlyFlag}
	switch s.ChromaFormatIdc {
	case 2:
		v.Chroma = "4:2:2"
	case 3:
		v.Chroma = "4:4:4"
	}
	if u := s.VUI; u != nil && u.AspectRatioInfoPresentFlag {
		if shape, known := shapes[u.AspectRatioIdc]; known {
			v.Shape = inspect.ShapeOf(shape[0], shape[1])
		} else if u.AspectRatioIdc == 255 {
			v.Shape = inspect.ShapeOf(int(u.SarWidth), int(u.SarHeight))
		}
	}
	if u := s.VUI; u != nil && u.VideoSignalTypePresentFlag {
		v.Range = "limited"
		if u.VideoFullRangeFlag {
			v.Range = "full"
		}
		if u.ColourDescriptionPresentFlag {
			// [standard: ITU-T H.273, from memory, held against ffprobe's names]
			v.Matrix = map[uint8]string{1: "bt709", 4: "fcc", 5: "bt470bg", 6: "smpte170m", 7: "smpte240m", 9: "bt2020nc"}[u.MatrixCoefficients]
			v.Transfer = map[uint8]string{1: "bt709", 6: "smpte170m", 14: "bt2020-10", 16: "smpte2084", 18: "arib-std-b67"}[u.TransferCharacteristics]
		}
	}
	return v, true
}

// shapes are those of samples, wide and tall, by their number [standard: ITU-T H.264 table E-1, from memory; held against ffprobe's].
var shapes = map[uint8][2]int{1: {1, 1}, 2: {12, 11}, 3: {10, 11}, 4: {16, 11}, 5: {40, 33}, 6: {24, 11}, 7: {20, 11}, 8: {32, 11},
	9: {80, 33}, 10: {18, 11}, 11: {15, 11}, 12: {64, 33}, 13: {160, 99}, 14: {4, 3}, 15: {3, 2}, 16: {2, 1}}

// levelOf is a level as people write it: 31 is 3.1.
func levelOf(idc int) string {
	return strings.TrimSuffix(strconv.Itoa(idc/10)+"."+strconv.Itoa(idc%10), ".0")
}

// profileOf names a profile [standard: ITU-T H.264 annex A].
func profileOf(s *h264.SPS) string {
	switch s.ProfileIdc {
	case 66:
		if s.ConstraintSet1Flag {
			return "Constrained Baseline"
		}
		return "Baseline"
	case 77:
		return "Main"
	case 88:
		return "Extended"
	case 100:
		return "High"
	case 110:
		return "High 10"
	case 122:
		return "High 4:2:2"
	case 244:
		return "High 4:4:4 Predictive"
	}
	return strconv.Itoa(int(s.ProfileIdc))
}
