package picture

import "fmt"

// Format is a pixel format a capture device delivers to the computer.
type Format string

// The pixel formats.
const (
	NV12  Format = "NV12"
	I420  Format = "I420"
	YUY2  Format = "YUY2"
	UYVY  Format = "UYVY"
	RGB24 Format = "RGB24"
	BGRA  Format = "BGRA"
	P010  Format = "P010"
	V210  Format = "v210"
	MJPEG Format = "MJPEG"
	H264  Format = "H.264"
)

// Raw lists the uncompressed formats.
var Raw = []Format{NV12, I420, YUY2, UYVY, RGB24, BGRA, P010, V210}

// Formats lists every format a document may name.
var Formats = append(append([]Format{}, Raw...), MJPEG, H264)

// Compressed tells whether bytes per frame depend on the picture.
func (f Format) Compressed() bool { return f == MJPEG || f == H264 }

// Richness orders formats by how much of the picture they keep: 4:4:4 and 10-bit over 4:2:2 over 4:2:0 over compressed.
func (f Format) Richness() int {
	switch f {
	case RGB24, BGRA:
		return 5
	case V210:
		return 4
	case YUY2, UYVY:
		return 3
	case P010:
		return 2
	case NV12, I420:
		return 1
	}
	return 0
}

// FrameBytes is the size of one uncompressed frame in bytes. 4:2:0 planes of odd sizes round up, as reference tools
// write them; a v210 line is 16 bytes for every 6 pixels, padded to 128 bytes. Compressed and unknown formats are an
// error.
func (f Format) FrameBytes(w, h int) (int64, error) {
	n, halfW, halfH := int64(w)*int64(h), int64(w+1)/2, int64(h+1)/2
	switch f {
	case NV12, I420:
		return n + 2*halfW*halfH, nil
	case YUY2, UYVY:
		return 4 * halfW * int64(h), nil
	case RGB24:
		return 3 * n, nil
	case BGRA:
		return 4 * n, nil
	case P010:
		return 2 * (n + 2*halfW*halfH), nil
	case V210:
		return int64((w+47)/48*128) * int64(h), nil
	}
	return 0, fmt.Errorf("pixel format %q: bytes a frame are fixed only for %v", f, Raw)
}

// Stream is the exact bytes a second of an uncompressed stream as a fraction num/den.
func (f Format) Stream(w, h int, r Rate) (num, den int64, err error) {
	b, err := f.FrameBytes(w, h)
	if err != nil {
		return 0, 1, err
	}
	return b * r.Num, r.Den, nil
}
