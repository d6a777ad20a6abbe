package server

import (
	"encoding/base64"
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/edid"
	"eventether/core/gear"
	"eventether/core/view"
	"eventether/internal/demo/rigs"
)

func shelved(t *testing.T, body string) Shelved {
	t.Helper()
	var s Shelved
	require.NoError(t, json.Unmarshal([]byte(body), &s), body)
	return s
}

func asJSON(t *testing.T, v any) string {
	t.Helper()
	b, err := json.Marshal(v)
	require.NoError(t, err)
	return string(b)
}

func TestTheWayOfASheet(t *testing.T) {
	s := serve(t)
	e := rigs.Shelf()[0]
	e.ID = "way-camera"
	status, body, _ := call(t, s, "POST", "/api/shelf", `{"entry":`+asJSON(t, e)+`}`)
	require.Equal(t, 200, status, body)
	require.Equal(t, 1, shelved(t, body).Revision)

	// A rig that was made from it.
	r := rigs.Loft()
	for i := range r.Items {
		if r.Items[i].Shelf != nil && r.Items[i].Shelf.ID == "loft-camera-a" {
			r.Items[i].Shelf.ID = e.ID
		}
	}
	status, body, _ = call(t, s, "POST", "/api/rigs", asJSON(t, r))
	require.Equal(t, 200, status, body)
	made := board(t, body)

	measured := rigs.Measured()
	measured.ID = e.ID
	status, body, _ = call(t, s, "PUT", "/api/shelf/way-camera", `{"from":1,"what":"measured","entry":`+asJSON(t,
		measured)+`}`)
	require.Equal(t, 200, status, body)
	require.Equal(t, 2, shelved(t, body).Revision)
	require.Len(t, shelved(t, body).Uses, 2)
	status, body, _ = call(t, s, "PUT", "/api/shelf/way-camera", `{"from":1,"entry":`+asJSON(t, measured)+`}`)
	require.Equal(t, 409, status, body)
	status, body, _ = call(t, s, "PUT", "/api/shelf/another", `{"from":1,"entry":`+asJSON(t, measured)+`}`)
	require.Equal(t, 422, status, body)

	// The newer sheet is offered as one edit that names what changes; taking it keeps how the item is set.
	path := "/api/rigs/" + made.ID.String()
	_, body, _ = call(t, s, "GET", path+"/newer", "")
	var newer []Newer
	require.NoError(t, json.Unmarshal([]byte(body), &newer))
	require.Len(t, newer, 2)
	require.Equal(t, []gear.Change{{Field: "power › drawW", Was: "6.5 (5 to 8), estimate",
		Is: "6.1 (5.9 to 6.3), measured 2026-10-12"}}, newer[0].Changes)
	status, body, _ = call(t, s, "POST", path+"/edits", fmt.Sprintf(`{"from":1,"what":"took it","edits":%s}`,
		asJSON(t, newer[0].Edits)))
	require.Equal(t, 200, status, body)
	taken := board(t, body).Rig.Item(newer[0].Item)
	require.Equal(t, 2, taken.Shelf.Revision)
	require.Equal(t, 6.1, taken.Gear.Power.DrawW.Value)
	require.Equal(t, r.Items[0].Set, taken.Set)
	_, body, _ = call(t, s, "GET", path+"/newer", "")
	require.NoError(t, json.Unmarshal([]byte(body), &newer))
	require.Len(t, newer, 1)

	// Frozen, it stays: nothing is offered, nothing can be changed.
	status, _, _ = call(t, s, "POST", path+"/freeze", `{"frozen":true}`)
	require.Equal(t, 204, status)
	_, body, _ = call(t, s, "GET", path+"/newer", "")
	require.Equal(t, "[]\n", body)
	status, body, _ = call(t, s, "POST", path+"/edits", `{"from":2,"what":"x","edits":[{"do":"name","name":"N"}]}`)
	require.Equal(t, 409, status)
	require.Contains(t, body, "frozen for a past show")

	status, body, _ = call(t, s, "POST", "/api/shelf/way-camera/copy", "")
	require.Equal(t, 200, status, body)
	require.Equal(t, "loft-camera-a-copy", shelved(t, body).Entry.ID)
	status, _, _ = call(t, s, "DELETE", "/api/shelf/way-camera", "")
	require.Equal(t, 204, status)
	_, body, _ = call(t, s, "GET", "/api/shelf", "")
	require.NotContains(t, body, `"way-camera"`)
	status, _, _ = call(t, s, "POST", "/api/shelf/way-camera/restore", "")
	require.Equal(t, 204, status)

	// Out as a file and in again, both kinds.
	for _, format := range []string{"json", "csv"} {
		status, file, h := call(t, s, "GET", "/api/shelf-file?format="+format+"&only=way-camera", "")
		require.Equal(t, 200, status)
		require.Contains(t, h.Get("Content-Disposition"), "shelf."+format)
		status, body, _ = call(t, s, "POST", "/api/shelf-file", asJSON(t, map[string]string{"text": file}))
		require.Equal(t, 200, status, body)
		var in []Shelved
		require.NoError(t, json.Unmarshal([]byte(body), &in))
		require.Len(t, in, 1)
		require.Equal(t, asJSON(t, measured.Gear), asJSON(t, in[0].Entry.Gear))
	}
	status, body, _ = call(t, s, "POST", "/api/shelf-file", `{"text":"kind,name\nkite,K\n"}`)
	require.Equal(t, 422, status)
	require.Contains(t, body, "kite")
	status, body, _ = call(t, s, "POST", "/api/shelf",
		`{"entry":{"id":"x","owned":true,"gear":{"kind":"hub","name":"H","colour":1}}}`)
	require.Equal(t, 422, status)
	require.Contains(t, body, "is not a field")
	status, _, _ = call(t, s, "DELETE", "/api/shelf/nothing-here", "")
	require.Equal(t, 404, status)
}

func TestReadingsAndComparisons(t *testing.T) {
	s := serve(t)
	stick := rigs.Shelf()[2]
	good := base64.StdEncoding.EncodeToString(edid.Sample(16))
	cut := base64.StdEncoding.EncodeToString(edid.Sample(16)[:100])
	status, body, _ := call(t, s, "POST", "/api/edid",
		fmt.Sprintf(`{"files":[{"name":"in.bin","data":%q},{"name":"cut.bin","data":%q}],"gear":%s,"on":"2026-09-01"}`,
			good, cut, asJSON(t, stick.Gear)))
	require.Equal(t, 200, status, body)
	var read []EDIDRead
	require.NoError(t, json.Unmarshal([]byte(body), &read))
	require.True(t, read[0].Reading.Valid)
	require.Equal(t, []string{"1080p60"}, read[0].After)
	require.Greater(t, len(read[0].Before), 3)
	require.Equal(t, "edid", read[0].Gear.Ports[0].ModesFrom)
	require.Equal(t, "2026-09-01", read[0].Gear.Ports[0].ModesAt)
	require.False(t, read[1].Reading.Valid)
	require.Equal(t, 100, *read[1].Reading.Offset)
	status, body, _ = call(t, s, "POST", "/api/edid", fmt.Sprintf(`{"files":[{"name":"in.bin","data":%q}],"gear":%s}`,
		good, asJSON(t, rigs.Shelf()[0].Gear)))
	require.Equal(t, 422, status)
	require.Contains(t, body, "has no picture input")

	text := "\t[0]: 'NV12' (Y/CbCr 4:2:0)\n\t\tSize: Discrete 1920x1080\n\t\t\tInterval: Discrete 0.017s (60.000 fps)\n\t\tSize: Discrete 12"
	status, body, _ = call(t, s, "POST", "/api/formats", fmt.Sprintf(`{"text":%s,"gear":%s}`, asJSON(t, text),
		asJSON(t, stick.Gear)))
	require.Equal(t, 200, status, body)
	var formats FormatsRead
	require.NoError(t, json.Unmarshal([]byte(body), &formats))
	require.True(t, formats.Listing.Incomplete)
	require.Equal(t, []string{"NV12 1920×1080 to 60"}, formats.After)
	status, body, _ = call(t, s, "POST", "/api/formats", `{"text":"hello"}`)
	require.Equal(t, 422, status)
	require.Contains(t, body, "This listing cannot be used: line 1")

	loftDoc := loft(t)
	status, body, _ = call(t, s, "POST", "/api/agree", `{"rig":`+loftDoc+`,"of":"stage-lead"}`)
	require.Equal(t, 200, status, body)
	var a view.Agreement
	require.NoError(t, json.Unmarshal([]byte(body), &a))
	require.Equal(t, "1080p29.97 4:2:2", a.Best)
	status, _, _ = call(t, s, "POST", "/api/agree", `{"rig":`+loftDoc+`,"of":"none"}`)
	require.Equal(t, 422, status)
	status, body, _ = call(t, s, "POST", "/api/ways", `{"rig":`+loftDoc+`,"of":"cam-face"}`)
	require.Equal(t, 200, status, body)
	require.Contains(t, body, "Through a capture device")
	status, _, _ = call(t, s, "POST", "/api/ways", `{"rig":`+loftDoc+`,"of":"pc"}`)
	require.Equal(t, 422, status)
}
