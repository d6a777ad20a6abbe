package server

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"net/http"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/look"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
	"eventether/internal/devices"
	"eventether/internal/rigfile"
)

// framesOf are the frames of a made clip, as a page sends them of a device: with exact times, samples of each, and a fifth
// of a second apart all of the luma.
func framesOf(t *testing.T, filter string, w, h int, hz float64) []byte {
	t.Helper()
	ffmpeg, err := exec.LookPath("ffmpeg")
	if err != nil {
		t.Skip("no ffmpeg")
	}
	raw, err := exec.Command(ffmpeg, "-v", "error", "-f", "lavfi", "-i", filter, "-vf", "format=gray", "-f", "rawvideo",
		"pipe:1").Output()
	require.NoError(t, err)
	var out bytes.Buffer
	put := func(kind byte, at float64, luma []byte) {
		out.WriteByte(kind)
		_ = binary.Write(&out, binary.LittleEndian, uint32(12+len(luma)))
		_ = binary.Write(&out, binary.LittleEndian, at)
		_ = binary.Write(&out, binary.LittleEndian, [2]uint16{uint16(w), uint16(h)})
		out.Write(luma)
	}
	for n := 0; (n+1)*w*h <= len(raw); n++ {
		luma := raw[n*w*h : (n+1)*w*h]
		samples := make([]byte, look.SampledWidth*look.SampledHeight)
		for y := range look.SampledHeight {
			for x := range look.SampledWidth {
				samples[y*look.SampledWidth+x] = luma[(y*h+h/2)/look.SampledHeight*w+(x*w+w/2)/look.SampledWidth]
			}
		}
		put('P', float64(n)/hz, samples)
		if n%6 == 0 {
			put('F', float64(n)/hz, luma)
		}
	}
	return out.Bytes()
}

// A device is looked at from its first frame to what follows; what is no look, no device of the rig and no batch is
// refused by name.
func TestLookAtADevice(t *testing.T) {
	s := serve(t)
	file, err := rigfile.Write(rigs.Loft())
	require.NoError(t, err)
	_, body, _ := call(t, s, "POST", "/api/rigs", string(file))
	id := board(t, body).ID.String()
	status, body, _ := call(t, s, "POST", "/api/rigs/"+id+"/inputs",
		`{"inputs":[{"id":"1","label":"Roving phone","kind":"videoinput"},{"id":"2","label":"HDMI","kind":"videoinput"}]}`)
	require.Equal(t, 200, status, body)
	var is []view.InputIs
	require.NoError(t, json.Unmarshal([]byte(body), &is))
	require.True(t, is[0].Sure)
	open := func(of string) (int, string) {
		status, body, _ := call(t, s, "POST", "/api/rigs/"+id+"/looks", `{"of":"`+of+`","facts":{"label":"HDMI"}}`)
		var l devices.Look
		_ = json.Unmarshal([]byte(body), &l)
		if status != 200 {
			return status, body
		}
		return status, l.ID
	}
	send := func(look string, batch []byte) (int, string) {
		req, err := http.NewRequest("PUT", s.URL+"/api/looks/"+look, bytes.NewReader(batch))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/octet-stream")
		res, err := s.Client().Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		var text bytes.Buffer
		_, err = text.ReadFrom(res.Body)
		require.NoError(t, err)
		return res.StatusCode, text.String()
	}
	end := func(look string) *view.Looked {
		status, body, _ := call(t, s, "POST", "/api/looks/"+look+"/end", `{}`)
		require.Equal(t, 200, status, body)
		var out view.Looked
		require.NoError(t, json.Unmarshal([]byte(body), &out))
		return &out
	}
	status, said := open("nothing")
	require.Equal(t, 422, status)
	require.Contains(t, said, "nothing")

	status, one := open(is[0].Of)
	require.Equal(t, 200, status, one)
	batch := framesOf(t, "testsrc2=size=640x360:rate=25:duration=5,fps=30,pad=640:400:0:20:black", 640, 400, 30)
	status, said = send(one, batch)
	require.Equal(t, 200, status, said)
	require.Contains(t, said, `"hz":30`)
	l := end(one)
	require.Equal(t, "640×400", l.Rows[0].Measured)
	var found []look.Name
	for _, x := range l.Wrong {
		found = append(found, x.What)
	}
	require.Contains(t, found, look.IsRepeats)
	require.Contains(t, found, look.IsBorder)
	status, said = send(one, batch)
	require.Equal(t, 410, status, said)
	require.Equal(t, l, end(one), "asked again, it says the same")

	_, two := open("programme")
	status, said = send(two, []byte("X...."))
	require.Equal(t, 422, status, said)
	require.Contains(t, said, "record 1")
	status, said, _ = call(t, s, "POST", "/api/looks/together", `{"alone":["`+one+`"],"beside":["`+two+`"]}`)
	require.Equal(t, 410, status, said)
	require.Contains(t, said, "still open")
	end(two)
	status, said, _ = call(t, s, "POST", "/api/looks/together", `{"alone":["`+one+`"],"beside":["`+two+`"]}`)
	require.Equal(t, 200, status, said)
	require.Contains(t, said, "not keep up")
	status, said, _ = call(t, s, "POST", "/api/looks/together", `{"alone":["`+one+`"],"beside":[]}`)
	require.Equal(t, 422, status, said)
	status, said, _ = call(t, s, "POST", "/api/looks/none/end", `{}`)
	require.Equal(t, 410, status, said)
	require.True(t, strings.Contains(said, "begin anew"))
	status, said, _ = call(t, s, "POST", "/api/looks/wave", `{"looks":["none"]}`)
	require.Equal(t, 200, status, said)
	require.Contains(t, said, `"sure":false`)
	status, said, _ = call(t, s, "POST", "/api/looks/preflight", `{"looks":["`+two+`","`+one+`"]}`)
	require.Equal(t, 200, status, said)
	var p view.Preflight
	require.NoError(t, json.Unmarshal([]byte(said), &p))
	require.Equal(t, []string{"programme", is[0].Of}, []string{p.Rows[0].Of, p.Rows[1].Of}, "in the order they are named")
	require.Equal(t, look.Clear, p.Rows[0].Passes.Answer, "it gave nothing")
	require.Contains(t, p.Rows[1].Follows, l.Wrong[0].Do, "the worst of it")
	require.Equal(t, "Two devices are not as they have to be.", p.Sentence)
	for path, c := range map[string][2]string{
		"preflight": {`{"looks":["none"]}`, "begin anew"},
		"claps":     {`{"first":"` + one + `","second":"none"}`, "begin anew"},
		"match":     {`{"patches":[{"label":"Bench camera","pixels":"AAA="},{"label":"b","pixels":"AAAA"}]}`, "Bench camera: 2 bytes: want three for each pixel"},
	} {
		status, said, _ := call(t, s, "POST", "/api/looks/"+path, c[0])
		require.Contains(t, []int{410, 422}, status, said)
		require.Contains(t, said, c[1])
	}
	status, said, _ = call(t, s, "POST", "/api/looks/claps", `{"first":"`+one+`","second":"`+two+`"}`)
	require.Equal(t, 200, status, said)
	require.Contains(t, said, "Fewer than three claps")
}
