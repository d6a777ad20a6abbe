package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"eventether/core/night"
	"eventether/core/runsheet"
	"eventether/internal/wire"
)

// Night is a show opened from a revision of a rig.
type Night struct {
	ID        uuid.UUID `gorm:"type:uuid;primaryKey"`
	RigID     uuid.UUID `gorm:"type:uuid"`
	Revision  int
	Name      string
	AirAt     time.Time
	People    int
	Sheet     []byte `gorm:"type:jsonb"`
	Held      []byte `gorm:"type:jsonb"`
	HeldSeq   int64  // as of how many operations
	Seq       int64
	CreatedAt time.Time
}

// NightOp is one operation as it is kept.
type NightOp struct {
	NightID uuid.UUID `gorm:"type:uuid;primaryKey"`
	ID      string    `gorm:"primaryKey"`
	Seq     int64
	Kind    string
	At      time.Time
	Doc     []byte `gorm:"type:jsonb"`
	KeptAt  time.Time
}

// ErrNoNight says that there is no such night.
var ErrNoNight = errors.New("no such show in the log")

// RunSheet reads the sheet as it was.
func (n *Night) RunSheet() (*runsheet.RunSheet, error) {
	var s runsheet.RunSheet
	if err := json.Unmarshal(n.Sheet, &s); err != nil {
		return nil, fmt.Errorf("run sheet of %s: %w", n.ID, err)
	}
	return &s, nil
}

// Sum is what the night counts for over all nights.
func (n *Night) Sum() (h night.Held, err error) {
	err = json.Unmarshal(n.Held, &h)
	return h, err
}

// OpenNight begins a show: the rig's revision, and its run sheet as it is now. Asked again under the same id, it is the
// one there is.
func (s *Store) OpenNight(ctx context.Context, n Night, sheet *runsheet.RunSheet) (Night, error) {
	if n.ID == uuid.Nil {
		n.ID = uuid.New()
	}
	n.CreatedAt = time.Now().UTC()
	var err error
	if n.Sheet, err = wire.Marshal(sheet); err != nil {
		return n, err
	}
	return n, s.write(ctx, func(s *Store) error {
		var there []Night
		if err := s.db.Where("id = ?", n.ID).Find(&there).Error; err != nil {
			return err
		}
		if len(there) > 0 { // asked again
			n = there[0]
			return nil
		}
		return s.putNight(&n, sheet, nil, nil)
	})
}

// PutNight keeps a night with its operations, as it comes from an archive; one that is there stays as it is.
func (s *Store) PutNight(ctx context.Context, n Night, ops []night.Op) (added bool, err error) {
	sheet, err := n.RunSheet()
	if err != nil {
		return false, err
	}
	err = s.write(ctx, func(s *Store) error {
		var there int64
		if err := s.db.Model(&Night{}).Where("id = ?", n.ID).Count(&there).Error; err != nil || there > 0 {
			return err
		}
		added = true
		rows, err := rowsOf(n.ID, 0, ops)
		if err != nil {
			return err
		}
		return s.putNight(&n, sheet, ops, rows)
	})
	return added, err
}

func (s *Store) putNight(n *Night, sheet *runsheet.RunSheet, ops []night.Op, rows []NightOp) (err error) {
	n.Seq = int64(len(rows))
	n.HeldSeq = n.Seq
	st := night.NewState()
	for i := range ops {
		st.Add(ops[i])
	}
	if n.Held, err = wire.Marshal(st.Held(n.show(sheet))); err != nil {
		return err
	}
	if err := s.db.Create(n).Error; err != nil {
		return err
	}
	if len(rows) == 0 {
		return nil
	}
	return s.db.CreateInBatches(rows, 500).Error
}

func rowsOf(id uuid.UUID, from int64, ops []night.Op) ([]NightOp, error) {
	rows := make([]NightOp, 0, len(ops))
	now := time.Now().UTC()
	for i := range ops {
		doc, err := json.Marshal(ops[i])
		if err != nil {
			return nil, err
		}
		rows = append(rows, NightOp{NightID: id, ID: ops[i].ID, Seq: from + int64(i) + 1, Kind: ops[i].Kind,
			At: time.UnixMilli(ops[i].At).UTC(), Doc: doc, KeptAt: now})
	}
	return rows, nil
}

// MostOps is how many operations one show can hold.
const MostOps = 200_000

// ErrFull says that a show holds as many operations as it can.
var ErrFull = fmt.Errorf("a show holds %d operations at most", MostOps)

// AddOps adds what is new of some operations to a night; what is there already stays as it was. Operations of one night
// come one after the other, so that whoever has seen seq n has seen all up to it. What it costs goes by what is added,
// not by what is there.
func (s *Store) AddOps(ctx context.Context, id uuid.UUID, ops []night.Op) (seq int64, err error) {
	err = s.write(ctx, func(s *Store) error {
		var n Night
		if err := s.db.Select("id", "seq").Clauses(clause.Locking{Strength: "UPDATE"}).First(&n, "id = ?",
			id).Error; err != nil {
			return noNight(err, id)
		}
		fresh, err := s.unknown(id, ops)
		if err != nil {
			return err
		}
		if seq = n.Seq; len(fresh) == 0 {
			return nil
		}
		if n.Seq+int64(len(fresh)) > MostOps {
			return ErrFull
		}
		rows, err := rowsOf(id, n.Seq, fresh)
		if err != nil {
			return err
		}
		if err := s.db.CreateInBatches(rows, 500).Error; err != nil {
			return err
		}
		seq = n.Seq + int64(len(fresh))
		return s.db.Model(&Night{}).Where("id = ?", id).Update("seq", seq).Error
	})
	return seq, err
}

// unknown are the operations a night does not have yet, each once.
func (s *Store) unknown(id uuid.UUID, ops []night.Op) (fresh []night.Op, err error) {
	ids := make([]string, len(ops))
	for i := range ops {
		ids[i] = ops[i].ID
	}
	list, err := json.Marshal(ids)
	if err != nil {
		return nil, err
	}
	// A join, and no "id in (…)": that is looked through from its beginning for every row of a long show.
	var found []string
	if err := s.db.Raw(`SELECT o.id FROM jsonb_array_elements_text(?::jsonb) AS sent(id) JOIN night_ops o ON o.night_id = ? AND o.id = sent.id`,
		string(list), id).Scan(&found).Error; err != nil {
		return nil, err
	}
	there := make(map[string]bool, len(ops))
	for _, k := range found {
		there[k] = true
	}
	for _, op := range ops {
		if !there[op.ID] {
			there[op.ID] = true
			fresh = append(fresh, op)
		}
	}
	return fresh, nil
}

func (n *Night) show(sheet *runsheet.RunSheet) night.Show {
	return night.Show{ID: n.ID.String(), Name: n.Name, AirAt: n.AirAt.UnixMilli(), People: n.People, Sheet: sheet}
}

// HasRevision tells whether a revision of a rig is there.
func (s *Store) HasRevision(ctx context.Context, rig uuid.UUID, number int) (bool, error) {
	var n int64
	err := s.db.WithContext(ctx).Model(&Revision{}).Where("rig_id = ? and number = ?", rig, number).Count(&n).Error
	return n > 0, err
}

func noNight(err error, id uuid.UUID) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return fmt.Errorf("%w: %s", ErrNoNight, id)
	}
	return err
}

// Night reads one night.
func (s *Store) Night(ctx context.Context, id uuid.UUID) (n Night, err error) {
	return n, noNight(s.db.WithContext(ctx).First(&n, "id = ?", id).Error, id)
}

// Sums are nights with what they count for, without their sheets. What has gone on since it was last reckoned is
// reckoned anew, and kept.
func (s *Store) Sums(ctx context.Context, ids []uuid.UUID) (out []Night, err error) {
	if err := s.db.WithContext(ctx).Omit("sheet").Where("id in ?", ids).Find(&out).Error; err != nil {
		return nil, err
	}
	for i := range out {
		if n := &out[i]; n.HeldSeq < n.Seq {
			if err := s.reckon(ctx, n); err != nil {
				return nil, err
			}
		}
	}
	return out, nil
}

// reckon works out what a night counts for as of now.
func (s *Store) reckon(ctx context.Context, n *Night) error {
	ops, err := s.Ops(ctx, n.ID, 0)
	if err != nil {
		return err
	}
	whole, err := s.Night(ctx, n.ID)
	if err != nil {
		return err
	}
	sheet, err := whole.RunSheet()
	if err != nil {
		return err
	}
	st := night.NewState()
	for i := range ops {
		st.Add(ops[i])
	}
	if n.Held, err = wire.Marshal(st.Held(n.show(sheet))); err != nil {
		return err
	}
	n.Seq, n.HeldSeq = int64(len(ops)), int64(len(ops))
	return s.write(ctx, func(s *Store) error {
		return s.db.Model(&Night{}).Where("id = ? and held_seq < ?", n.ID, n.HeldSeq).
			Updates(map[string]any{"held": n.Held, "held_seq": n.HeldSeq}).Error
	})
}

// Nights lists the nights of a rig, or of all, the newest first, without their sheets and what they count for.
func (s *Store) Nights(ctx context.Context, rig *uuid.UUID) (out []Night, err error) {
	q := s.db.WithContext(ctx).Omit("sheet", "held").Order("air_at DESC, id")
	if rig != nil {
		q = q.Where("rig_id = ?", *rig)
	}
	return out, q.Find(&out).Error
}

// LastNight is the newest night of a rig; ErrNoNight when it has none.
func (s *Store) LastNight(ctx context.Context, rig uuid.UUID) (n Night, err error) {
	return n, noNight(s.db.WithContext(ctx).Order("air_at DESC, id").First(&n, "rig_id = ?", rig).Error, rig)
}

// Ops are the operations of a night after a seq, in their order.
func (s *Store) Ops(ctx context.Context, id uuid.UUID, after int64) ([]night.Op, error) {
	return (&Store{s.db.WithContext(ctx)}).opsAfter(id, after)
}

func (s *Store) opsAfter(id uuid.UUID, after int64) ([]night.Op, error) {
	var rows []NightOp
	if err := s.db.Select("doc").Where("night_id = ? and seq > ?", id, after).Order("seq").Find(&rows).
		Error; err != nil {
		return nil, err
	}
	out := make([]night.Op, len(rows))
	for i := range rows {
		if err := json.Unmarshal(rows[i].Doc, &out[i]); err != nil {
			return nil, fmt.Errorf("operation %s of %s: %w", rows[i].ID, id, err)
		}
	}
	return out, nil
}
