package server

import (
	"encoding/json"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/rig"
	"eventether/internal/demo/rigs"
)

// A figure measured on the night goes into the rig and onto the sheet of what it was measured on, with its date; a
// rig's own goes into the rig alone.
func TestTakeMeasured(t *testing.T) {
	s := serve(t)
	code, body, _ := call(t, s, "POST", "/api/shelf",
		`{"entry":{"id":"measured-camera","gear":{"kind":"camera","name":"Measured camera","ports":[{"id":"hdmi","connector":"hdmi-a","direction":"out"}],"power":{"drawW":{"value":6,"low":4,"high":9,"from":"estimate"}}},"owned":true}}`)
	require.Equal(t, http.StatusOK, code, body)
	var shelved struct{ Entry struct{ ID string } }
	require.NoError(t, json.Unmarshal([]byte(body), &shelved))
	r := rigs.LoftEven()
	r.Item("cam-bench").Shelf = &rig.ShelfRef{ID: shelved.Entry.ID, Revision: 1}
	text, err := json.Marshal(r)
	require.NoError(t, err)
	code, body, _ = call(t, s, "POST", "/api/rigs", string(text))
	require.Equal(t, http.StatusOK, code, body)
	var board struct{ ID string }
	require.NoError(t, json.Unmarshal([]byte(body), &board))

	var named []string
	take := func(body string) (int, string) {
		code, answer, _ := call(t, s, "POST", "/api/rigs/"+board.ID+"/measured", body, named...)
		return code, answer
	}
	named = []string{keyHeader, "measured-once"}
	code, body = take(`{"path":"items/cam-bench/power/drawW","value":7.25,"on":"2026-11-20","what":"draw of the bench camera"}`)
	require.Equal(t, http.StatusOK, code, body)
	require.JSONEq(t, `{"rig":true,"shelf":"Measured camera"}`, body)
	code, again := take(`{"path":"items/cam-bench/power/drawW","value":7.25,"on":"2026-11-20","what":"draw of the bench camera"}`)
	require.Equal(t, http.StatusOK, code, again)
	require.JSONEq(t, body, again, "asked again under its key")
	named = nil
	_, body, _ = call(t, s, "GET", "/api/shelf", "")
	require.Contains(t, body, `"value":7.25`)
	require.Contains(t, body, `"at":"2026-11-20"`)
	_, body, _ = call(t, s, "GET", "/api/rigs/"+board.ID, "")
	require.Contains(t, body, `"value":7.25`)

	code, body = take(`{"path":"uplink/reading","value":11.5,"on":"2026-11-20","what":"upload"}`)
	require.Equal(t, http.StatusOK, code, body)
	require.JSONEq(t, `{"rig":true,"shelf":""}`, body)

	for _, bad := range []string{
		`{"path":"items/nobody/power/drawW","value":7,"on":"2026-11-20","what":"x"}`,
		`{"path":"items/cam-bench/power/drawW","value":-7,"on":"2026-11-20","what":"x"}`,
		`{"path":"items/cam-bench/power/drawW","value":7,"on":"yesterday","what":"x"}`,
		`{"path":"items/cam-bench/power/drawW","value":7,"on":"2026-11-20","what":"a\u0000b"}`,
	} {
		code, body = take(bad)
		require.Equal(t, http.StatusUnprocessableEntity, code, bad+body)
	}
}
