package store

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"eventether/core/night"
)

// WholeRig is a rig with every revision.
type WholeRig struct {
	Rig       Rig        `json:"rig"`
	Revisions []Revision `json:"revisions"`
}

// WholeEntry is a thing on the shelf with every revision.
type WholeEntry struct {
	Entry     ShelfRow        `json:"entry"`
	Revisions []ShelfRevision `json:"revisions"`
}

// WholeNight is a night with every operation.
type WholeNight struct {
	Night Night      `json:"night"`
	Ops   []night.Op `json:"ops"`
}

// Each hands over everything there is, one after the other, as it was at one moment.
func (s *Store) Each(ctx context.Context, rig func(WholeRig) error, entry func(WholeEntry) error, profile func(WholeProfile) error, evening func(WholeNight) error) error {
	return s.Snapshot(ctx, func(s *Store) error {
		var rigs []Rig
		if err := s.db.Order("created_at, id").Find(&rigs).Error; err != nil {
			return err
		}
		for _, row := range rigs {
			w := WholeRig{Rig: row}
			if err := s.db.Where("rig_id = ?", row.ID).Order("number").Find(&w.Revisions).Error; err != nil {
				return err
			}
			if err := rig(w); err != nil {
				return err
			}
		}
		var entries []ShelfRow
		if err := s.db.Order("id").Find(&entries).Error; err != nil {
			return err
		}
		for _, row := range entries {
			w := WholeEntry{Entry: row}
			if err := s.db.Where("entry_id = ?", row.ID).Order("number").Find(&w.Revisions).Error; err != nil {
				return err
			}
			if err := entry(w); err != nil {
				return err
			}
		}
		if err := s.eachProfile(profile); err != nil {
			return err
		}
		var nights []Night
		if err := s.db.Order("created_at, id").Find(&nights).Error; err != nil {
			return err
		}
		for _, row := range nights {
			ops, err := s.opsAfter(row.ID, 0)
			if err != nil {
				return err
			}
			if err := evening(WholeNight{row, ops}); err != nil {
				return err
			}
		}
		return nil
	})
}

// Came is what became of something that was brought back.
type Came string

// CameNew: it was not there. CameSame: it was there as it is. CameLonger: it was there, and what had been added since then came too. CameAhead: what is
// there goes on from it. CameClash: what is there is another; it stays, and this one is not taken.
const (
	CameNew    Came = "new"
	CameSame   Came = "same"
	CameLonger Came = "longer"
	CameAhead  Came = "ahead"
	CameClash  Came = "clash"
)

// errRevisions says that revisions are not numbered from one on.
var errRevisions = errors.New("its revisions are not numbered from 1 on")

// history compares what is there with what comes, revision by revision.
func history[T any](there, comes []T, same func(a, b *T) bool) Came {
	for i := range min(len(there), len(comes)) {
		if !same(&there[i], &comes[i]) {
			return CameClash
		}
	}
	switch {
	case len(there) == 0:
		return CameNew
	case len(there) < len(comes):
		return CameLonger
	case len(there) > len(comes):
		return CameAhead
	}
	return CameSame
}

func sameJSON(a, b []byte) bool {
	var x, y bytes.Buffer
	return json.Compact(&x, a) == nil && json.Compact(&y, b) == nil && bytes.Equal(x.Bytes(), y.Bytes())
}

// BringRig brings a rig back with its revisions. What is there is never changed but by revisions it does not have yet.
func (s *Store) BringRig(ctx context.Context, w WholeRig) (came Came, err error) {
	if err := numbered(w.Revisions, func(r *Revision) (int, bool) { return r.Number, r.RigID == w.Rig.ID }); err != nil || w.Rig.Head != len(w.Revisions) {
		return "", fmt.Errorf("rig %s: %w", w.Rig.ID, cmpErr(err, errRevisions))
	}
	err = s.write(ctx, func(s *Store) error {
		var there []Revision
		if err := s.db.Where("rig_id = ?", w.Rig.ID).Order("number").Find(&there).Error; err != nil {
			return err
		}
		came = history(there, w.Revisions, func(a, b *Revision) bool {
			return a.Number == b.Number && a.What == b.What && sameJSON(a.Doc, b.Doc)
		})
		switch came {
		case CameNew:
			if err := s.db.Create(&w.Rig).Error; err != nil {
				return err
			}
		case CameLonger:
			if err := s.db.Model(&Rig{}).Where("id = ?", w.Rig.ID).Updates(map[string]any{"name": w.Rig.Name, "head": w.Rig.Head, "state": w.Rig.State, "feeds": w.Rig.Feeds, "updated_at": w.Rig.UpdatedAt}).Error; err != nil {
				return err
			}
		default:
			return nil
		}
		return s.db.CreateInBatches(w.Revisions[len(there):], 200).Error
	})
	return came, err
}

// BringEntry brings a thing of the shelf back, as BringRig does a rig.
func (s *Store) BringEntry(ctx context.Context, w WholeEntry) (came Came, err error) {
	if err := numbered(w.Revisions, func(r *ShelfRevision) (int, bool) { return r.Number, r.EntryID == w.Entry.ID }); err != nil || w.Entry.Head != len(w.Revisions) {
		return "", fmt.Errorf("shelf entry %q: %w", w.Entry.ID, cmpErr(err, errRevisions))
	}
	err = s.write(ctx, func(s *Store) error {
		var there []ShelfRevision
		if err := s.db.Where("entry_id = ?", w.Entry.ID).Order("number").Find(&there).Error; err != nil {
			return err
		}
		came = history(there, w.Revisions, func(a, b *ShelfRevision) bool {
			return a.Number == b.Number && sameJSON(a.Doc, b.Doc)
		})
		switch came {
		case CameNew:
			if err := s.db.Create(&w.Entry).Error; err != nil {
				return err
			}
		case CameLonger:
			if err := s.db.Model(&ShelfRow{}).Where("id = ?", w.Entry.ID).Updates(map[string]any{"kind": w.Entry.Kind, "name": w.Entry.Name, "owned": w.Entry.Owned, "head": w.Entry.Head, "updated_at": w.Entry.UpdatedAt}).Error; err != nil {
				return err
			}
		default:
			return nil
		}
		return s.db.CreateInBatches(w.Revisions[len(there):], 200).Error
	})
	return came, err
}

// BringNight brings a night back: operations are only ever added, so both halves of one go together.
func (s *Store) BringNight(ctx context.Context, w WholeNight) (came Came, err error) {
	added, err := s.PutNight(ctx, w.Night, w.Ops)
	if err != nil || added {
		return CameNew, err
	}
	there, err := s.Night(ctx, w.Night.ID)
	if err != nil {
		return "", err
	}
	if there.RigID != w.Night.RigID || there.Revision != w.Night.Revision || !sameJSON(there.Sheet, w.Night.Sheet) {
		return CameClash, nil
	}
	if len(w.Ops) == 0 {
		return CameSame, nil
	}
	seq, err := s.AddOps(ctx, w.Night.ID, w.Ops)
	switch {
	case err != nil:
		return "", err
	case seq > there.Seq:
		return CameLonger, nil
	case seq > int64(len(w.Ops)):
		return CameAhead, nil
	}
	return CameSame, nil
}

func numbered[T any](revs []T, number func(*T) (n int, mine bool)) error {
	for i := range revs {
		if n, mine := number(&revs[i]); n != i+1 || !mine {
			return errRevisions
		}
	}
	if len(revs) == 0 {
		return errRevisions
	}
	return nil
}

func cmpErr(err, other error) error {
	if err != nil {
		return err
	}
	return other
}
