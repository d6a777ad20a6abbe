package server

import (
	"encoding/json"
	"testing"
	"time"

	"eventether/core/night"
)

// Whatever comes as an operation is read, or refused with a reason; what is kept can be folded, written and read again as it was, and
// passes the same check.
func FuzzOperation(f *testing.F) {
	for _, s := range []string{`{"id":"op-000001","kind":"tick","at":5,"step":"a"}`, `{"id":"op-000002","kind":"figure","at":5,"figure":{"what":"x","value":1e308}}`,
		`{"id":"op-000003","kind":"incident","at":5,"incident":{"loss":"other","what":"a\u2068b","minutesLost":3}}`, `{"id":"op-000004","kind":"note","at":9e18,"text":"x","of":"op-000003"}`,
		`{"id":"op-000005","kind":"drop","at":5,"of":"op-000001"}`, `[]`, `null`, `{"id":7}`, `{"id":"op-000006","kind":"air","at":1,"said":-1}`} {
		f.Add([]byte(s), int64(0))
	}
	f.Fuzz(func(t *testing.T, raw []byte, off int64) {
		op, refused := (&SentOp{raw}).read()
		if refused != nil {
			if refused.Why == "" {
				t.Fatalf("%q is refused without a reason", raw)
			}
			return
		}
		op.Arrive(time.Now().UnixMilli(), off)
		if op.Refused() != nil {
			return
		}
		st := night.NewState()
		st.Add(op)
		text, err := json.Marshal(op)
		if err != nil {
			t.Fatalf("%q cannot be written: %s", raw, err)
		}
		again, refused := (&SentOp{text}).read()
		if refused != nil {
			t.Fatalf("%q came back as %q, refused: %s", raw, text, refused.Why)
		}
		st.Add(again)
		if st.Seq() != 1 {
			t.Fatalf("%q is another operation once it was written", raw)
		}
		if _, err := json.Marshal(st.Standing()); err != nil {
			t.Fatalf("%q makes a show that cannot be written: %s", raw, err)
		}
	})
}
