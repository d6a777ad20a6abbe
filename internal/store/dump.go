package store

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"

	"eventether/core/night"
)

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

// Whole takes everything there is, one thing after the other. What is long is handed over piece by piece.
type Whole struct {
	Rig     func(row Rig, revisions func(each func(*Revision) error) error) error
	Entry   func(WholeEntry) error
	Profile func(WholeProfile) error
	Report  func(Report) error
	Night   func(row Night, ops func(each func(night.Op) error) error) error
}

// atOnce is how many revisions or operations are in memory at once.
const (
	revisionsAtOnce = 20
	opsAtOnce       = 2000
)

// Each hands over everything there is, as it was at one moment.
func (s *Store) Each(ctx context.Context, to Whole) error {
	return s.Snapshot(ctx, func(s *Store) error {
		var rigs []Rig
		if err := s.db.Order("created_at, id").Find(&rigs).Error; err != nil {
			return err
		}
		for _, row := range rigs {
			if err := to.Rig(row, func(each func(*Revision) error) error {
				return s.eachRevision(row.ID, each)
			}); err != nil {
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
			if err := to.Entry(w); err != nil {
				return err
			}
		}
		if err := s.eachProfile(to.Profile); err != nil {
			return err
		}
		if err := s.eachReport(to.Report); err != nil {
			return err
		}
		var nights []Night
		if err := s.db.Order("created_at, id").Find(&nights).Error; err != nil {
			return err
		}
		for _, row := range nights {
			if err := to.Night(row, func(each func(night.Op) error) error {
				return s.eachOp(row.ID, each)
			}); err != nil {
				return err
			}
		}
		return nil
	})
}

func (s *Store) eachRevision(id uuid.UUID, each func(*Revision) error) error {
	for from := 0; ; {
		var some []Revision
		if err := s.db.Where("rig_id = ? and number > ?", id, from).Order("number").Limit(revisionsAtOnce).Find(&some).
			Error; err != nil || len(some) == 0 {
			return err
		}
		for i := range some {
			if err := each(&some[i]); err != nil {
				return err
			}
		}
		from = some[len(some)-1].Number
	}
}

func (s *Store) eachOp(id uuid.UUID, each func(night.Op) error) error {
	for from := int64(0); ; from += opsAtOnce {
		var rows []NightOp
		if err := s.db.Select("doc").Where("night_id = ? and seq > ? and seq <= ?", id, from, from+opsAtOnce).
			Order("seq").Find(&rows).Error; err != nil || len(rows) == 0 {
			return err
		}
		for i := range rows {
			var op night.Op
			if err := json.Unmarshal(rows[i].Doc, &op); err != nil {
				return fmt.Errorf("operation %s of %s: %w", rows[i].ID, id, err)
			}
			if err := each(op); err != nil {
				return err
			}
		}
	}
}

// Together runs do in one transaction, for as long as it takes: all of it is kept, or nothing.
func (s *Store) Together(ctx context.Context, do func(*Store) error) error {
	return s.writeWithin(ctx, longest, do)
}

// longest bounds what is done together.
const longest = time.Hour

// Came is what became of something that was brought back.
type Came string

// CameNew: it was not there. CameSame: it was there as it is. CameLonger: it was there, and what had been added since
// then came too. CameAhead: what is there goes on from it. CameClash: what is there is another; it stays, and this one
// is not taken.
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

// BringRig brings a rig back, revision by revision until next gives none; row is read once all have been given. What is
// there is never changed but by revisions it does not have yet, and is held, for others who change it, only where there
// are any.
func (s *Store) BringRig(ctx context.Context, row *Rig, next func() (*Revision, error)) (came Came, err error) {
	err = s.write(ctx, func(s *Store) error {
		var there []Rig
		if err := s.db.Where("id = ?", row.ID).Find(&there).Error; err != nil {
			return err
		}
		head := 0
		if len(there) > 0 {
			head = there[0].Head
		} else if err := s.db.Create(row).Error; err != nil {
			return err
		}
		var fresh []Revision
		keep := func() error {
			defer func() { fresh = fresh[:0] }()
			if len(fresh) == 0 {
				return nil
			}
			return s.db.CreateInBatches(fresh, revisionsAtOnce).Error
		}
		n, clash := 0, false
		for {
			rev, err := next()
			if err != nil {
				return err
			}
			if rev == nil {
				break
			}
			switch n++; {
			case clash:
			case n > head:
				if n == head+1 && head > 0 {
					var now Rig
					if err := find(s.db.Clauses(clause.Locking{Strength: "UPDATE"}), row.ID, &now); err != nil {
						return err
					}
					if clash = now.Head != head; clash { // somebody has gone on with it meanwhile
						continue
					}
				}
				if fresh = append(fresh, *rev); len(fresh) == revisionsAtOnce {
					if err := keep(); err != nil {
						return err
					}
				}
			default:
				var have Revision
				if err := get(s.db, row.ID, n, &have); err != nil {
					return err
				}
				clash = have.What != rev.What || !sameJSON(have.Doc, rev.Doc)
			}
		}
		switch {
		case clash:
			came = CameClash
			return nil
		case n < head:
			came = CameAhead
			return nil
		case n == head:
			came = CameSame
			return nil
		}
		if err := keep(); err != nil {
			return err
		}
		came = CameNew
		columns := map[string]any{"name": row.Name, "head": n, "state": row.State, "feeds": row.Feeds,
			"updated_at": row.UpdatedAt}
		if head > 0 {
			came = CameLonger
		}
		return s.db.Model(&Rig{}).Where("id = ?", row.ID).UpdateColumns(columns).Error
	})
	return came, err
}

// BringEntry brings a thing of the shelf back, as BringRig does a rig.
func (s *Store) BringEntry(ctx context.Context, w WholeEntry) (came Came, err error) {
	if err := numbered(w.Revisions, func(r *ShelfRevision) (int, bool) {
		return r.Number, r.EntryID == w.Entry.ID
	}); err != nil || w.Entry.Head != len(w.Revisions) {
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
			if err := s.db.Model(&ShelfRow{}).Where("id = ?", w.Entry.ID).Updates(map[string]any{"kind": w.Entry.Kind,
				"name": w.Entry.Name, "owned": w.Entry.Owned, "head": w.Entry.Head, "updated_at": w.Entry.UpdatedAt}).
				Error; err != nil {
				return err
			}
		default:
			return nil
		}
		return s.db.CreateInBatches(w.Revisions[len(there):], 200).Error
	})
	return came, err
}

// BringNight brings a night back, with operations until next gives none: they are only ever added, so both halves of
// one go together.
func (s *Store) BringNight(ctx context.Context, n Night, next func() ([]night.Op, error)) (came Came, err error) {
	err = s.write(ctx, func(s *Store) error {
		added, err := s.PutNight(ctx, n, nil)
		if err != nil {
			return err
		}
		there, err := s.Night(ctx, n.ID)
		if err != nil {
			return err
		}
		clash := there.RigID != n.RigID || there.Revision != n.Revision || !sameJSON(there.Sheet, n.Sheet)
		count, seq := int64(0), there.Seq
		for {
			ops, err := next()
			if err != nil {
				return err
			}
			if len(ops) == 0 {
				break
			}
			count += int64(len(ops))
			if clash {
				continue
			}
			fresh, err := s.unknown(n.ID, ops)
			if err != nil || len(fresh) == 0 { // a show that is under way is not held for what it has
				if err != nil {
					return err
				}
				continue
			}
			if seq, err = s.AddOps(ctx, n.ID, fresh); err != nil {
				return err
			}
		}
		switch {
		case added:
			came = CameNew
		case clash:
			came = CameClash
		case seq > there.Seq:
			came = CameLonger
		case seq > count:
			came = CameAhead
		default:
			came = CameSame
		}
		return nil
	})
	return came, err
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
