package server

import (
	"encoding/json"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// What a destination of one's own takes is kept under its name, offered before the general kinds, told when nobody has
// looked for long, and taken off again.
func TestDestinationsOfOnesOwn(t *testing.T) {
	s := serve(t)
	list := func() (all []BeginFrom) {
		code, body, _ := call(t, s, "GET", "/api/destinations", "")
		require.Equal(t, http.StatusOK, code, body)
		require.NoError(t, json.Unmarshal([]byte(body), &all))
		return all
	}
	put := func(body string) (int, string) {
		code, answer, _ := call(t, s, "PUT", "/api/destinations", body)
		return code, answer
	}
	general := len(list())
	require.False(t, list()[0].Own)
	code, body := put(`{"name":"Parish channel","transport":"srt","ingest":{"maxVideoKbps":3000,"checkedOn":"2026-01-05"}}`)
	require.Equal(t, http.StatusNoContent, code, body)
	all := list()
	require.Len(t, all, general+1)
	require.Equal(t, "Parish channel", all[0].Name)
	require.True(t, all[0].Own)
	require.True(t, all[0].Stale, "looked at in January")
	require.Equal(t, 3000.0, all[0].Ingest.MaxVideoKbps)

	today := time.Now().Format(time.DateOnly)
	code, body = put(`{"name":"Parish channel","transport":"srt","ingest":{"maxVideoKbps":4000,"checkedOn":"` + today +
		`"}}`)
	require.Equal(t, http.StatusNoContent, code, body)
	require.Equal(t, 4000.0, list()[0].Ingest.MaxVideoKbps)
	require.False(t, list()[0].Stale)
	require.Len(t, list(), general+1, "one of a name")

	for body, says := range map[string]string{
		`{"name":"Open to 1080 lines","transport":"rtmp","ingest":{}}`:                                      "one of the general kinds",
		`{"name":"","transport":"rtmp","ingest":{}}`:                                                        "it has no name",
		`{"name":"a\u0000b","transport":"rtmp","ingest":{}}`:                                                "name",
		`{"name":"At odds","transport":"rtmp","ingest":{"maxVideoKbps":100,"minVideoKbps":2000}}`:           "cannot be kept",
		`{"name":"By smoke","transport":"smoke","ingest":{}}`:                                               "want one of rtmp",
		`{"name":"Negative","transport":"rtmp","ingest":{"maxVideoKbps":-1}}`:                               "maxVideoKbps",
		`{"name":"Unknown field","transport":"rtmp","ingest":{"maxVideoKbps":100,"streamKey":"abcd-efgh"}}`: "streamKey",
	} {
		code, answer := put(body)
		require.Equal(t, http.StatusUnprocessableEntity, code, body+answer)
		require.Contains(t, answer, says, body)
	}
	require.Len(t, list(), general+1)

	code, body, _ = call(t, s, "DELETE", "/api/destinations?name=Parish%20channel", "")
	require.Equal(t, http.StatusNoContent, code, body)
	require.Len(t, list(), general)
	code, body, _ = call(t, s, "DELETE", "/api/destinations?name=Parish%20channel", "")
	require.Equal(t, http.StatusNotFound, code, body)
	require.Contains(t, body, "Parish channel")
	code, _ = put(`{"name":"Parish channel","transport":"srt","ingest":{}}`)
	require.Equal(t, http.StatusNoContent, code)
	require.Len(t, list(), general+1, "back again")
}
