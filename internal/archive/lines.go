package archive

import (
	"archive/zip"
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"io"

	"eventether/internal/store"
)

// lineWriter writes documents of lines.
type lineWriter struct {
	to   io.Writer
	last []byte // the document of the revision before
}

func (w *lineWriter) line(v any) error {
	enc := json.NewEncoder(w.to)
	enc.SetEscapeHTML(false)
	return enc.Encode(v)
}

// revision writes a revision as what differs from the one before: so many bytes at its beginning and its end are the
// same.
func (w *lineWriter) revision(rev *store.Revision) error {
	var doc bytes.Buffer
	if err := json.Compact(&doc, rev.Doc); err != nil {
		return err
	}
	d := revDoc{Number: rev.Number, Kind: rev.Kind, Shows: rev.Shows, What: rev.What, Who: rev.Who, At: rev.At,
		Name: rev.Name, State: rev.State}
	if now := doc.Bytes(); w.last == nil {
		d.Doc = now
	} else {
		d.Same, d.Between = difference(w.last, now)
	}
	w.last = bytes.Clone(doc.Bytes())
	return w.line(d)
}

// difference is how many bytes of a document before stand at the beginning and at the end of the next, and what stands
// between. The cuts are at characters, so that what is between is a text.
func difference(was, now []byte) (same *[2]int, between string) {
	head := 0
	for head < len(was) && head < len(now) && was[head] == now[head] {
		head++
	}
	for head > 0 && head < len(now) && now[head]&0xc0 == 0x80 {
		head--
	}
	tail := 0
	for tail < len(was)-head && tail < len(now)-head && was[len(was)-1-tail] == now[len(now)-1-tail] {
		tail++
	}
	for tail > 0 && now[len(now)-tail]&0xc0 == 0x80 {
		tail--
	}
	return &[2]int{head, tail}, string(now[head : len(now)-tail])
}

// whole puts a document together from the one before.
func (d *revDoc) whole(was []byte) ([]byte, error) {
	if d.Same == nil {
		return d.Doc, nil
	}
	head, tail := d.Same[0], d.Same[1]
	if d.Doc != nil || was == nil || head < 0 || tail < 0 || head+tail > len(was) {
		return nil, unusable("revision %d does not follow from the one before", d.Number)
	}
	if head+tail+len(d.Between) > mostLine {
		return nil, unusable("revision %d is longer than %d MB", d.Number, mostLine>>20)
	}
	out := make([]byte, 0, head+tail+len(d.Between))
	out = append(append(append(out, was[:head]...), d.Between...), was[len(was)-tail:]...)
	if !json.Valid(out) {
		return nil, unusable("revision %d does not follow from the one before", d.Number)
	}
	return out, nil
}

// unpacked counts what comes out of an archive against what it was.
type unpacked struct {
	packed, bytes int64
}

func newUnpacked(files []*zip.File) *unpacked {
	u := &unpacked{}
	for _, f := range files {
		u.packed += int64(f.CompressedSize64)
	}
	return u
}

// counted reads a document, and ends where what comes out is no text of ours.
type counted struct {
	io.ReadCloser
	u *unpacked
}

func (c counted) Read(b []byte) (int, error) {
	n, err := c.ReadCloser.Read(b)
	c.u.bytes += int64(n)
	if c.u.bytes > afterBytes && c.u.bytes > mostRatio*c.u.packed {
		return 0, unusable("the archive unpacks to more than %d times its size: no archive of this application does",
			mostRatio)
	}
	return n, err
}

func (u *unpacked) open(f *zip.File) (io.ReadCloser, error) {
	r, err := f.Open()
	if err != nil {
		return nil, unusable("it cannot be unpacked: %s", err)
	}
	return counted{r, u}, nil
}

// whole is one document.
func (u *unpacked) whole(f *zip.File) ([]byte, error) {
	r, err := u.open(f)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	raw, err := io.ReadAll(io.LimitReader(r, mostOne+1))
	switch {
	case err != nil:
		return nil, damaged(err)
	case len(raw) > mostOne:
		return nil, unusable("it is larger than %d MB", mostOne>>20)
	}
	return raw, nil
}

func damaged(err error) error {
	if bad := (*Unusable)(nil); errors.As(err, &bad) {
		return err
	}
	return unusable("it is damaged: %s", err)
}

// lines are the lines of a document.
type lines struct {
	io.Closer
	from *bufio.Reader
	n    int
}

func (u *unpacked) lines(f *zip.File) (*lines, error) {
	r, err := u.open(f)
	if err != nil {
		return nil, err
	}
	return &lines{r, bufio.NewReaderSize(r, 64<<10), 0}, nil
}

// next reads the next line into a value; false at the end.
func (l *lines) next(to any) (bool, error) {
	var line []byte
	for {
		part, err := l.from.ReadSlice('\n')
		line = append(line, part...)
		switch {
		case len(line) > mostLine:
			return false, unusable("line %d is longer than %d MB", l.n+1, mostLine>>20)
		case errors.Is(err, bufio.ErrBufferFull):
			continue
		case errors.Is(err, io.EOF) && len(line) == 0:
			return false, nil
		case err != nil && !errors.Is(err, io.EOF):
			return false, damaged(err)
		}
		break
	}
	l.n++
	return true, parse("line "+itoa(l.n), line, to)
}
