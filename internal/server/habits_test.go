package server

import (
	"encoding/json"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/advise"
	"eventether/internal/demo/rigs"
)

// The questions on which habits differ come with answers that can be given: one that is given is then how the rig is.
func TestHabits(t *testing.T) {
	s := serve(t)
	text, err := json.Marshal(rigs.Loft())
	require.NoError(t, err)
	code, body, _ := call(t, s, "POST", "/api/rigs", string(text))
	require.Equal(t, http.StatusOK, code, body)
	var board struct {
		ID       string
		Revision int
	}
	require.NoError(t, json.Unmarshal([]byte(body), &board))
	ask := func() map[string]advise.School {
		code, body, _ := call(t, s, "GET", "/api/rigs/"+board.ID+"/habits", "")
		require.Equal(t, http.StatusOK, code, body)
		var all []advise.School
		require.NoError(t, json.Unmarshal([]byte(body), &all))
		out := map[string]advise.School{}
		for _, h := range all {
			out[h.ID] = h
		}
		return out
	}
	full := ask()["range"].Options[1]
	require.False(t, full.Now)
	edits, err := json.Marshal(map[string]any{"from": board.Revision, "what": "full range", "edits": full.Edits})
	require.NoError(t, err)
	code, body, _ = call(t, s, "POST", "/api/rigs/"+board.ID+"/edits", string(edits))
	require.Equal(t, http.StatusOK, code, body)
	require.True(t, ask()["range"].Options[1].Now)

	code, body, _ = call(t, s, "GET", "/api/rigs/00000000-0000-0000-0000-000000000000/habits", "")
	require.Equal(t, http.StatusNotFound, code, body)
	code, body, _ = call(t, s, "GET", "/api/rigs/nobody/habits", "")
	require.Equal(t, http.StatusUnprocessableEntity, code, body)
}
