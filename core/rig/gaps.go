package rig

import "fmt"

// Gaps lists what a show does not say yet and somebody should, the most deciding first.
func Gaps(r *Rig) []string {
	out := []string{}
	s := &r.Show
	add := func(missing bool, format string, args ...any) {
		if missing {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	add(len(s.Destinations) == 0, "where it is sent")
	for i := range s.Destinations {
		d := &s.Destinations[i]
		add(d.Ingest == nil, "what %s takes at most", d.Name)
		add(d.Ingest != nil && d.Ingest.CheckedOn == "", "when the limits of %s were last checked", d.Name)
		add(d.Send.VideoKbps == nil, "the bitrate to %s", d.Name)
	}
	add(s.Angles == 0, "how many angles there are")
	add(s.MainsHz == 0, "the mains frequency of the place")
	add(s.Program.Name == "", "which program takes the pictures")
	add(s.Switching == "" && s.Angles > 1, "who or what changes angles")
	add(s.SoundFrom == "", "where the sound comes from")
	add(len(s.Recordings) == 0, "what is recorded")
	add(s.Budget == nil, "how much may be spent")
	return out
}
