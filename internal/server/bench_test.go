package server

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/bench"
)

// By hand at the board: an act comes back as edits that can be held, and what cannot be done says why in words.
func TestActsByHand(t *testing.T) {
	s := serve(t)
	doc := loft(t)
	post := func(path, more string) (int, string) {
		status, body, _ := call(t, s, "POST", path, `{"rig":`+doc+`,`+more+`}`)
		return status, body
	}
	status, body := post("/api/act", `"act":{"do":"more","entry":"camcorder","count":2}`)
	require.Equal(t, 200, status, body)
	var done bench.Done
	require.NoError(t, json.Unmarshal([]byte(body), &done))
	require.Equal(t, "Put in 2 × Camcorder", done.What)
	status, body, _ = call(t, s, "POST", "/api/try", `{"rig":`+doc+`,"edits":`+asJSON(t, done.Edits)+`}`)
	require.Equal(t, 200, status, body)

	for act, why := range map[string]string{
		`{"do":"more","entry":"nothing-such"}`:                         "nothing-such is not on the shelf",
		`{"do":"more"}`:                                                "choose a thing of the shelf first",
		`{"do":"out","at":"gone"}`:                                     "gone is not in this rig any more",
		`{"do":"between","at":"gone","entry":"splitter"}`:              "gone is no lead of this rig any more",
		`{"do":"dance"}`:                                               "dance is nothing that can be done at the board",
		`{"do":"connect","at":"cam-bench.hdmi","to":"pc.x"}`:           "it is not in this rig any more",
		`{"do":"connect","at":"cam-bench.hdmi","to":"cam-bench.hdmi"}`: "that is the same socket",
	} {
		status, body = post("/api/act", `"act":`+act)
		require.Equal(t, 422, status, act)
		require.Contains(t, body, why, act)
	}
	status, body = post("/api/offers", `"act":{"do":"out","at":"cam-bench"}`)
	require.Equal(t, 422, status, body)
	status, body = post("/api/fits", `"socket":"cam-bench.none"`)
	require.Equal(t, 422, status)
	require.Contains(t, body, "no socket cam-bench.none")
}
