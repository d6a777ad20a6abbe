package system

import "strings"

// Said keeps the first of what a child says, so many bytes, and lets the rest go.
type Said struct {
	text strings.Builder
	Most int
}

// Write takes all that is said.
func (s *Said) Write(b []byte) (int, error) {
	s.text.Write(b[:max(0, min(len(b), s.Most-s.text.Len()))])
	return len(b), nil
}

// String is what was kept.
func (s *Said) String() string { return s.text.String() }

// First is its first line.
func (s *Said) First() string {
	line, _, _ := strings.Cut(strings.TrimSpace(s.text.String()), "\n")
	return line
}
