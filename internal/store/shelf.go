package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"eventether/core/gear"
	"eventether/core/rig"
)

// ShelfRow is one entry of the shelf with the columns that are searched.
type ShelfRow struct {
	ID        string `gorm:"primaryKey"`
	Kind      string
	Name      string
	Owned     bool
	Head      int
	UpdatedAt time.Time
	DeletedAt *time.Time
}

// TableName is fixed: the shelf is one.
func (ShelfRow) TableName() string { return "shelf" }

// ShelfRevision is one state of an entry.
type ShelfRevision struct {
	EntryID string `gorm:"primaryKey"`
	Number  int    `gorm:"primaryKey"`
	What    string
	Who     string
	At      time.Time
	Doc     []byte `gorm:"type:jsonb"`
}

// Entry decodes the document of a revision.
func (rev *ShelfRevision) Entry() (*gear.Entry, error) {
	var e gear.Entry
	if err := json.Unmarshal(rev.Doc, &e); err != nil {
		return nil, fmt.Errorf("revision %d of shelf entry %s: %w", rev.Number, rev.EntryID, err)
	}
	return &e, nil
}

// ErrNotOnShelf says that there is no such entry.
var ErrNotOnShelf = errors.New("no such thing on the shelf")

// Use is one item of a rig that was copied from the shelf.
type Use struct {
	Entry    string
	RigID    uuid.UUID
	RigName  string
	Frozen   bool
	Item     string
	Label    string
	Revision int
}

// Shelf lists the newest state of every entry, by kind and name.
func (s *Store) Shelf(ctx context.Context, deleted bool) ([]ShelfRow, []ShelfRevision, error) {
	where := "deleted_at is null"
	if deleted {
		where = "deleted_at is not null"
	}
	var rows []ShelfRow
	var revs []ShelfRevision
	err := s.Snapshot(ctx, func(s *Store) error {
		if err := s.db.Where(where).Order("kind, name, id").Find(&rows).Error; err != nil {
			return err
		}
		err := s.db.Joins("join shelf on shelf.id = shelf_revisions.entry_id and shelf.head = shelf_revisions.number").
			Where("shelf." + where).Order("shelf.kind, shelf.name, shelf.id").Find(&revs).Error
		if err == nil && len(rows) != len(revs) {
			err = fmt.Errorf("%d entries of the shelf have %d newest states", len(rows), len(revs))
		}
		return err
	})
	return rows, revs, err
}

// ShelfEntry is one entry at a revision, 0 for the newest.
func (s *Store) ShelfEntry(ctx context.Context, id string, number int) (row ShelfRow, rev ShelfRevision, err error) {
	err = s.Snapshot(ctx, func(s *Store) error {
		if err := s.onShelf(id, &row, ""); err != nil {
			return err
		}
		if number == 0 {
			number = row.Head
		}
		return shelfError(s.db.First(&rev, "entry_id = ? and number = ?", id, number).Error, id)
	})
	return row, rev, err
}

// ShelfHistory is every state of an entry, the newest first, without its documents.
func (s *Store) ShelfHistory(ctx context.Context, id string) (revs []ShelfRevision, err error) {
	err = s.Snapshot(ctx, func(s *Store) error {
		var row ShelfRow
		if err := s.onShelf(id, &row, ""); err != nil {
			return err
		}
		return s.db.Select("entry_id", "number", "what", "who", "at").Order("number desc").Limit(mostStates).
			Find(&revs, "entry_id = ?", id).Error
	})
	return revs, err
}

// mostStates bounds the states of an entry that are listed.
const mostStates = 500

// onShelf finds an entry, under a lock when one is named. What no id can be is on no shelf.
func (s *Store) onShelf(id string, row *ShelfRow, lock string) error {
	if rig.TextProblem(id) != "" {
		return fmt.Errorf("%w: %q", ErrNotOnShelf, id)
	}
	db := s.db
	if lock != "" {
		db = db.Clauses(clause.Locking{Strength: lock})
	}
	return shelfError(db.First(row, "id = ?", id).Error, id)
}

func shelfError(err error, id string) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return fmt.Errorf("%w: %s", ErrNotOnShelf, id)
	}
	return err
}

// PutOnShelf adds an entry; when its id is taken, it gets the next free one. It gives the entry as it was kept.
func (s *Store) PutOnShelf(ctx context.Context, e gear.Entry, who, what string) (ShelfRow, ShelfRevision, error) {
	rows, revs, err := s.PutAllOnShelf(ctx, []gear.Entry{e}, who, what)
	if err != nil {
		return ShelfRow{}, ShelfRevision{}, err
	}
	return rows[0], revs[0], nil
}

// PutAllOnShelf adds entries, all of them or none, and gives them in their order. They are added in the order of their
// ids, so that two who add the same do not wait for each other.
func (s *Store) PutAllOnShelf(ctx context.Context, entries []gear.Entry, who, what string) (rows []ShelfRow,
	revs []ShelfRevision, err error) {
	order := make([]int, len(entries))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return strings.Compare(entries[a].ID, entries[b].ID) })
	list, again, err := s.once(ctx, func(s *Store) ([]made, error) {
		rows, revs = make([]ShelfRow, len(entries)), make([]ShelfRevision, len(entries))
		for _, i := range order {
			if rows[i], revs[i], err = s.putOnShelf(entries[i], who, what); err != nil {
				return nil, err
			}
		}
		return madeOnShelf(revs), nil
	})
	if again && err == nil {
		return s.remadeOnShelf(ctx, list)
	}
	return rows, revs, err
}

func (s *Store) putOnShelf(e gear.Entry, who, what string) (row ShelfRow, rev ShelfRevision, err error) {
	stem, tried := e.ID, map[string]bool{}
	for {
		e.ID = rig.FreshID(stem, func(id string) bool { return tried[id] })
		tried[e.ID] = true
		row = ShelfRow{}
		if rev, err = shelfRevision(&row, e, 1, who, what); err != nil {
			return row, rev, err
		}
		done := s.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&row)
		if done.Error != nil {
			return row, rev, done.Error
		}
		if done.RowsAffected == 1 {
			return row, rev, s.db.Create(&rev).Error
		}
	}
}

func madeOnShelf(revs []ShelfRevision) []made {
	list := make([]made, len(revs))
	for i := range revs {
		list[i] = made{revs[i].EntryID, revs[i].Number}
	}
	return list
}

// remadeOnShelf gives what an earlier request of the same key made.
func (s *Store) remadeOnShelf(ctx context.Context, list []made) (rows []ShelfRow, revs []ShelfRevision, err error) {
	for _, m := range list {
		row, rev, err := s.ShelfEntry(ctx, m.ID, m.Number)
		if err != nil {
			return nil, nil, err
		}
		rows, revs = append(rows, row), append(revs, rev)
	}
	if len(rows) == 0 {
		return nil, nil, ErrKeyUsed
	}
	return rows, revs, nil
}

func shelfRevision(row *ShelfRow, e gear.Entry, number int, who, what string) (ShelfRevision, error) {
	doc, err := json.Marshal(e)
	if err != nil {
		return ShelfRevision{}, err
	}
	row.ID, row.Kind, row.Name, row.Owned, row.Head, row.UpdatedAt = e.ID, string(e.Gear.Kind), e.Gear.Name, e.Owned,
		number, time.Now().UTC()
	return ShelfRevision{EntryID: e.ID, Number: number, What: what, Who: who, At: row.UpdatedAt, Doc: doc}, nil
}

// SaveOnShelf appends a state made from revision from.
func (s *Store) SaveOnShelf(ctx context.Context, e gear.Entry, from int, who, what string) (row ShelfRow,
	rev ShelfRevision, err error) {
	list, again, err := s.once(ctx, func(s *Store) ([]made, error) {
		row = ShelfRow{}
		if err := s.onShelf(e.ID, &row, "UPDATE"); err != nil {
			return nil, err
		}
		if row.Head != from {
			return nil, &Clash{From: from, Head: row.Head}
		}
		if rev, err = shelfRevision(&row, e, from+1, who, what); err != nil {
			return nil, err
		}
		if err := s.db.Save(&row).Error; err != nil {
			return nil, err
		}
		return madeOnShelf([]ShelfRevision{rev}), s.db.Create(&rev).Error
	})
	if again && err == nil {
		rows, revs, err := s.remadeOnShelf(ctx, list)
		if err != nil {
			return row, rev, err
		}
		return rows[0], revs[0], nil
	}
	return row, rev, err
}

// TakeOffShelf hides an entry; BackOnShelf undoes it.
func (s *Store) TakeOffShelf(ctx context.Context, id string) error {
	return s.markShelf(ctx, id, gorm.Expr("now()"))
}

// BackOnShelf shows a hidden entry again.
func (s *Store) BackOnShelf(ctx context.Context, id string) error { return s.markShelf(ctx, id, nil) }

func (s *Store) markShelf(ctx context.Context, id string, at any) error {
	if rig.TextProblem(id) != "" {
		return fmt.Errorf("%w: %q", ErrNotOnShelf, id)
	}
	res := s.db.WithContext(ctx).Model(&ShelfRow{}).Where("id = ?", id).UpdateColumn("deleted_at", at)
	if res.Error == nil && res.RowsAffected == 0 {
		return fmt.Errorf("%w: %s", ErrNotOnShelf, id)
	}
	return res.Error
}

// Uses lists where entries of the shelf are used: the items of every rig's newest state that were copied from one.
func (s *Store) Uses(ctx context.Context) ([]Use, error) {
	var out []Use
	return out, s.db.WithContext(ctx).
		Raw(`select item->'shelf'->>'id' as entry, rigs.id as rig_id, rigs.name as rig_name, rigs.frozen,
		item->>'id' as item, item->>'label' as label, (item->'shelf'->>'revision')::int as revision
		from rigs join revisions on revisions.rig_id = rigs.id and revisions.number = rigs.head, jsonb_array_elements(revisions.doc->'items') item
		where rigs.deleted_at is null and jsonb_exists(item, 'shelf') order by rigs.name, item->>'label'`).Scan(&out).
		Error
}

// Freeze keeps a rig as it is, or lets it change again.
func (s *Store) Freeze(ctx context.Context, id uuid.UUID, frozen bool) error {
	res := s.db.WithContext(ctx).Model(&Rig{}).Where("id = ?", id).UpdateColumn("frozen", frozen)
	if res.Error == nil && res.RowsAffected == 0 {
		return fmt.Errorf("%w: %s", ErrNotFound, id)
	}
	return res.Error
}
