package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
)

// Report is what a rehearsal came to, with the state of the rig it was held against.
type Report struct {
	ID       uuid.UUID `gorm:"type:uuid;primaryKey" json:"id"`
	RigID    uuid.UUID `gorm:"type:uuid" json:"rigId"`
	Revision int       `json:"revision"`
	Kind     string    `json:"kind"` // rehearsal
	Part     string    `json:"part"` // of the sheet
	Name     string    `json:"name"`
	At       time.Time `json:"at"`
	Doc      []byte    `gorm:"type:jsonb" json:"-"`
}

// ErrNoReport says that there is no such report.
var ErrNoReport = errors.New("there is no such report")

// KeepReport keeps a report.
func (s *Store) KeepReport(ctx context.Context, r Report) error {
	return s.write(ctx, func(s *Store) error { return s.db.Create(&r).Error })
}

// Reports lists the reports of a rig, the newest first, without their documents.
func (s *Store) Reports(ctx context.Context, rig uuid.UUID) (out []Report, err error) {
	out = []Report{}
	return out, s.db.WithContext(ctx).Omit("doc").Where("rig_id = ?", rig).Order("at desc, id").Limit(200).Find(&out).Error
}

// Report is one of them.
func (s *Store) Report(ctx context.Context, id uuid.UUID) (*Report, error) {
	var r []Report
	if err := s.db.WithContext(ctx).Where("id = ?", id).Limit(1).Find(&r).Error; err != nil {
		return nil, err
	}
	if len(r) == 0 {
		return nil, fmt.Errorf("%w: %s", ErrNoReport, id)
	}
	return &r[0], nil
}

func (s *Store) eachReport(do func(Report) error) error {
	var ids []uuid.UUID
	if err := s.db.Model(&Report{}).Order("at, id").Pluck("id", &ids).Error; err != nil {
		return err
	}
	for _, id := range ids {
		var r Report
		if err := s.db.Where("id = ?", id).First(&r).Error; err != nil {
			return err
		}
		if err := do(r); err != nil {
			return err
		}
	}
	return nil
}

// BringReport brings a report back; its rig has to be there.
func (s *Store) BringReport(ctx context.Context, r Report) (came Came, err error) {
	err = s.write(ctx, func(s *Store) error {
		var there []Report
		if err := s.db.Where("id = ?", r.ID).Limit(1).Find(&there).Error; err != nil {
			return err
		}
		came = history(there, []Report{r}, func(a, b *Report) bool {
			return a.RigID == b.RigID && a.Revision == b.Revision && a.Kind == b.Kind && a.Part == b.Part && a.Name == b.Name && sameJSON(a.Doc, b.Doc)
		})
		if came != CameNew {
			return nil
		}
		var revisions int64
		if err := s.db.Model(&Revision{}).Where("rig_id = ? and number = ?", r.RigID, r.Revision).Count(&revisions).Error; err != nil {
			return err
		}
		if revisions == 0 {
			return fmt.Errorf("report %s: the rig it was held against is not there", r.ID)
		}
		return s.db.Create(&r).Error
	})
	return came, err
}
