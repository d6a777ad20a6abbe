// Package store keeps rigs in PostgreSQL as append-only revisions: who, when, what changed in words, and the whole
// document as it was. Undo, redo, compare and "the rig as it was that night" follow from that.
package store

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"math"
	"time"

	"github.com/google/uuid"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
	"gorm.io/gorm/logger"

	"eventether/core/judge"
	"eventether/core/rig"
	"eventether/core/verdict"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Rig is a rig in the list: the searched columns beside its newest revision.
type Rig struct {
	ID        uuid.UUID `gorm:"type:uuid;primaryKey"`
	Name      string
	Head      int
	State     string
	Feeds     int
	Frozen    bool // for a past show: stays as it was
	CreatedAt time.Time
	UpdatedAt time.Time
	DeletedAt *time.Time
}

// Revision is one document as it was, with who made it, when, and what changed in words.
type Revision struct {
	RigID  uuid.UUID `gorm:"type:uuid;primaryKey"`
	Number int       `gorm:"primaryKey"`
	Kind   string    // create, edit, undo, redo
	Shows  int       // the revision whose document this repeats; its own number when new
	What   string
	Who    string
	At     time.Time
	Name   string
	State  string
	Doc    []byte `gorm:"type:jsonb"`
}

// Errors a caller tells apart.
var (
	ErrNotFound = errors.New("no such rig")
	ErrNothing  = errors.New("nothing to undo or redo")
	ErrFrozen   = errors.New("this rig is frozen for a past show: copy it, or let it change again in the list of rigs")
)

// Clash says that a save was made from an older revision than the newest.
type Clash struct {
	From, Head int
}

func (c *Clash) Error() string {
	return fmt.Sprintf("this change was made from revision %d, and the newest is %d: look at what changed, then save again from there",
		c.From, c.Head)
}

// Store is the database.
type Store struct {
	db *gorm.DB
}

// Open connects and brings the schema up to date. Migrations run each in a transaction under a lock, so one that was
// cut off leaves nothing behind.
func Open(ctx context.Context, dsn string) (*Store, error) {
	db, err := gorm.Open(postgres.Open(dsn), &gorm.Config{Logger: logger.Discard, NowFunc: func() time.Time {
		return time.Now().UTC()
	}})
	if err != nil {
		return nil, fmt.Errorf("opening the database: %w", err)
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(16)
	pool.SetMaxIdleConns(8)
	pool.SetConnMaxIdleTime(time.Minute)
	dir, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return nil, err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, pool, dir, goose.WithSessionLocker(locker))
	if err != nil {
		return nil, err
	}
	if _, err := provider.Up(ctx); err != nil {
		return nil, fmt.Errorf("bringing the database up to date: %w", err)
	}
	s := &Store{db}
	return s, s.forgetKeys(ctx)
}

// Close lets go of every connection.
func (s *Store) Close() error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	return pool.Close()
}

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	return pool.PingContext(ctx)
}

// Once runs do the first time it is called for what in this database, with everything do writes kept or dropped
// together.
func (s *Store) Once(ctx context.Context, what string, do func(*Store) error) error {
	return s.write(ctx, func(s *Store) error {
		done := s.db.Exec("insert into done_once (what, at) values (?, now()) on conflict do nothing", what)
		if done.Error != nil || done.RowsAffected == 0 {
			return done.Error
		}
		return do(s)
	})
}

// List gives the rigs that are not deleted, the newest first; with deleted, only the deleted ones.
func (s *Store) List(ctx context.Context, deleted bool) ([]Rig, error) {
	q := s.db.WithContext(ctx).Order("updated_at desc, id")
	if deleted {
		q = q.Where("deleted_at is not null")
	} else {
		q = q.Where("deleted_at is null")
	}
	var out []Rig
	return out, q.Find(&out).Error
}

// Create keeps a new rig, as it was judged.
func (s *Store) Create(ctx context.Context, v *verdict.Verdict, who, what string) (Rig, Revision, error) {
	row := Rig{ID: uuid.New(), Head: 1, CreatedAt: time.Now().UTC()}
	rev, err := s.revision(&row, v, "create", who, what)
	if err != nil {
		return row, rev, err
	}
	list, again, err := s.once(ctx, func(s *Store) ([]made, error) {
		if err := s.db.Create(&row).Error; err != nil {
			return nil, err
		}
		return rev.made(), s.db.Create(&rev).Error
	})
	if again && err == nil {
		return s.remade(ctx, list)
	}
	return row, rev, err
}

func (rev *Revision) made() []made { return []made{{rev.RigID.String(), rev.Number}} }

// remade gives what an earlier request of the same key made.
func (s *Store) remade(ctx context.Context, list []made) (Rig, Revision, error) {
	if len(list) != 1 {
		return Rig{}, Revision{}, ErrKeyUsed
	}
	id, err := uuid.Parse(list[0].ID)
	if err != nil {
		return Rig{}, Revision{}, ErrKeyUsed
	}
	return s.Get(ctx, id, list[0].Number)
}

// revision prepares the next revision of a row and brings the row's searched columns along.
func (s *Store) revision(row *Rig, v *verdict.Verdict, kind, who, what string) (Revision, error) {
	r := v.Given
	doc, err := json.Marshal(r)
	if err != nil {
		return Revision{}, err
	}
	row.Name, row.State, row.Feeds, row.UpdatedAt = r.Name, v.State.String(), len(v.FeedsThat(false)), time.Now().UTC()
	return Revision{RigID: row.ID, Number: row.Head, Kind: kind, Shows: row.Head, What: what, Who: who,
		At:   row.UpdatedAt,
		Name: r.Name, State: row.State, Doc: doc}, nil
}

// Get gives a rig and one of its revisions; 0 is the newest.
func (s *Store) Get(ctx context.Context, id uuid.UUID, number int) (Rig, Revision, error) {
	var row Rig
	var rev Revision
	err := s.Snapshot(ctx, func(s *Store) error {
		if err := find(s.db, id, &row); err != nil {
			return err
		}
		if number == 0 {
			number = row.Head
		}
		return get(s.db, id, number, &rev)
	})
	return row, rev, err
}

func find(tx *gorm.DB, id uuid.UUID, row *Rig) error {
	err := tx.First(row, "id = ?", id).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return fmt.Errorf("%w: %s", ErrNotFound, id)
	}
	return err
}

func get(tx *gorm.DB, id uuid.UUID, number int, rev *Revision) error {
	err := gorm.ErrRecordNotFound
	if number > 0 && number <= math.MaxInt32 {
		err = tx.First(rev, "rig_id = ? and number = ?", id, number).Error
	}
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return fmt.Errorf("%w: %s has no revision %d", ErrNotFound, id, number)
	}
	return err
}

// History lists a rig's revisions, the newest first, without their documents.
func (s *Store) History(ctx context.Context, id uuid.UUID) ([]Revision, error) {
	var row Rig
	if err := find(s.db.WithContext(ctx), id, &row); err != nil {
		return nil, err
	}
	var out []Revision
	return out, s.db.WithContext(ctx).Omit("doc").Where("rig_id = ?", id).Order("number desc").Find(&out).Error
}

// Save keeps the next revision of a rig, as it was judged. from is the revision the change was made from; when it is no
// longer the newest, the error is a *Clash and nothing is changed.
func (s *Store) Save(ctx context.Context, id uuid.UUID, from int, v *verdict.Verdict, who, what string) (Rig, Revision,
	error) {
	return s.append(ctx, id, from, func(_ *gorm.DB, row *Rig) (Revision, error) {
		return s.revision(row, v, "edit", who, what)
	})
}

// append adds one revision under a lock on the rig's row.
func (s *Store) append(ctx context.Context, id uuid.UUID, from int, next func(*gorm.DB, *Rig) (Revision, error)) (Rig,
	Revision, error) {
	var row Rig
	var rev Revision
	list, again, err := s.once(ctx, func(s *Store) (_ []made, err error) {
		row, rev = Rig{}, Revision{}
		if err := find(s.db.Clauses(clause.Locking{Strength: "UPDATE"}), id, &row); err != nil {
			return nil, err
		}
		if from != row.Head {
			return nil, &Clash{From: from, Head: row.Head}
		}
		if row.Frozen {
			return nil, ErrFrozen
		}
		row.Head++
		if rev, err = next(s.db, &row); err != nil {
			return nil, err
		}
		if err := s.db.Save(&row).Error; err != nil {
			return nil, err
		}
		return rev.made(), s.db.Create(&rev).Error
	})
	if again && err == nil {
		return s.remade(ctx, list)
	}
	return row, rev, err
}

// Undo and Redo go one step back or forth by adding a revision that repeats an older document. The error is ErrNothing
// when there is no step to go.
func (s *Store) Undo(ctx context.Context, id uuid.UUID, from int, who string) (Rig, Revision, error) {
	return s.step(ctx, id, from, who, "undo")
}

// Redo takes back the last undo.
func (s *Store) Redo(ctx context.Context, id uuid.UUID, from int, who string) (Rig, Revision, error) {
	return s.step(ctx, id, from, who, "redo")
}

func (s *Store) step(ctx context.Context, id uuid.UUID, from int, who, kind string) (Rig, Revision, error) {
	return s.append(ctx, id, from, func(tx *gorm.DB, row *Rig) (Revision, error) {
		var past []Revision
		if err := tx.Select("number", "kind", "shows").Where("rig_id = ?", id).Order("number").Find(&past).
			Error; err != nil {
			return Revision{}, err
		}
		undo, redo := steps(past)
		target, word := undo, "undid"
		if kind == "redo" {
			target, word = redo, "redid"
		}
		if target == 0 {
			return Revision{}, ErrNothing
		}
		// What was undone is the change that led to the newest document; what is redone is the one that led to the
		// target.
		changed := target
		if kind == "undo" {
			changed = past[len(past)-1].Shows
		}
		var of, rev Revision
		if err := get(tx, id, changed, &of); err != nil {
			return rev, err
		}
		if err := get(tx, id, target, &rev); err != nil {
			return rev, err
		}
		r, err := rev.Rig()
		if err != nil {
			return rev, err
		}
		next, err := s.revision(row, judge.Rig(r), kind, who, word+": "+of.What)
		next.Shows = target
		return next, err
	})
}

// Past replays a history, the oldest first: what is shown, and what was before and was undone.
type Past struct {
	back, forth []int // numbers of documents; back ends with what is shown now
}

// Add adds a revision; what cannot follow is refused: one that undoes or redoes nothing, or shows another document than
// it would.
func (p *Past) Add(kind string, number, shows int) error {
	switch kind {
	case "undo":
		if len(p.back) < 2 {
			return fmt.Errorf("revision %d undoes what is not there", number)
		}
		p.forth = append(p.forth, p.back[len(p.back)-1])
		p.back = p.back[:len(p.back)-1]
	case "redo":
		if len(p.forth) == 0 {
			return fmt.Errorf("revision %d redoes what was not undone", number)
		}
		p.back = append(p.back, p.forth[len(p.forth)-1])
		p.forth = p.forth[:len(p.forth)-1]
	case "create", "edit":
		if (kind == "create") != (number == 1) {
			return fmt.Errorf("revision %d is of kind %q: the first is a create, and no other", number, kind)
		}
		p.back, p.forth = append(p.back, number), nil
	default:
		return fmt.Errorf("revision %d is of kind %q: want create, edit, undo or redo", number, kind)
	}
	if at := p.back[len(p.back)-1]; at != shows {
		return fmt.Errorf("revision %d says it shows %d, and shows %d", number, shows, at)
	}
	return nil
}

// steps tells which document an undo and a redo would show; 0 is none. What cannot follow is passed over: it was not
// made here.
func steps(past []Revision) (undo, redo int) {
	var p Past
	for _, rev := range past {
		_ = p.Add(rev.Kind, rev.Number, rev.Shows)
	}
	if len(p.back) > 1 {
		undo = p.back[len(p.back)-2]
	}
	if len(p.forth) > 0 {
		redo = p.forth[len(p.forth)-1]
	}
	return undo, redo
}

// Steps are the documents an undo and a redo of a rig would show, 0 for none, and the changes they would take back and
// make again.
type Steps struct {
	Undo, Redo     int
	Undoes, Redoes string
}

// Steps tells what can be undone and redone of a rig.
func (s *Store) Steps(ctx context.Context, id uuid.UUID) (out Steps, err error) {
	var past []Revision
	if err = s.db.WithContext(ctx).Select("number", "kind", "shows", "what").Where("rig_id = ?", id).Order("number").
		Find(&past).Error; err != nil || len(past) == 0 {
		return out, err
	}
	out.Undo, out.Redo = steps(past)
	for i := range past {
		if out.Undo > 0 && past[i].Number == past[len(past)-1].Shows {
			out.Undoes = past[i].What
		}
		if past[i].Number == out.Redo {
			out.Redoes = past[i].What
		}
	}
	return out, nil
}

// Delete hides a rig; Restore brings it back. Nothing is lost either way.
func (s *Store) Delete(ctx context.Context, id uuid.UUID) error {
	return s.mark(ctx, id, gorm.Expr("now()"))
}

// Restore brings a deleted rig back.
func (s *Store) Restore(ctx context.Context, id uuid.UUID) error { return s.mark(ctx, id, nil) }

func (s *Store) mark(ctx context.Context, id uuid.UUID, at any) error {
	res := s.db.WithContext(ctx).Model(&Rig{}).Where("id = ?", id).UpdateColumn("deleted_at", at)
	if res.Error == nil && res.RowsAffected == 0 {
		return fmt.Errorf("%w: %s", ErrNotFound, id)
	}
	return res.Error
}

// Rig reads the revision's document.
func (rev *Revision) Rig() (*rig.Rig, error) {
	var r rig.Rig
	if err := json.Unmarshal(rev.Doc, &r); err != nil {
		return nil, fmt.Errorf("revision %d of %s: %w", rev.Number, rev.RigID, err)
	}
	rig.Straight(&r) // what an older version kept may call leads from their far ends
	return &r, nil
}
