package store

import (
	"bytes"
	"context"
	"database/sql"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"io"
	"math/rand/v2"
	"net"
	"strings"
	"time"

	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/gorm"
)

// Trouble is what an error of the database means for whoever asked.
type Trouble int

// The kinds of trouble, by SQLSTATE [standard: PostgreSQL, Appendix A].
const (
	Inside  Trouble = iota // a fault of ours
	Away                   // the connection failed or the server is on its way down or up: asking again may help
	Late                   // it broke the request off for its length
	Full                   // there is no room
	Clashed                // others held what this needed, several times over
	Refused                // a value it cannot keep
)

// TroubleOf tells the trouble of an error.
func TroubleOf(err error) Trouble {
	var pg *pgconn.PgError
	if errors.As(err, &pg) {
		switch {
		case strings.HasPrefix(pg.Code, "08"), strings.HasPrefix(pg.Code, "57P"), pg.Code == "53300":
			return Away
		case pg.Code == "57014":
			return Late
		case strings.HasPrefix(pg.Code, "53"):
			return Full
		case strings.HasPrefix(pg.Code, "40"), pg.Code == "55P03":
			return Clashed
		case strings.HasPrefix(pg.Code, "22"), strings.HasPrefix(pg.Code, "23"):
			return Refused
		}
		return Inside
	}
	var connecting *pgconn.ConnectError
	var network net.Error
	switch {
	case errors.Is(err, context.DeadlineExceeded), // the driver gives the connection up with it
		errors.As(err, &connecting), errors.Is(err, driver.ErrBadConn), errors.Is(err, io.ErrUnexpectedEOF),
		errors.Is(err, io.EOF),
		errors.Is(err, net.ErrClosed), errors.Is(err, sql.ErrConnDone), errors.As(err, &network),
		strings.HasSuffix(err.Error(), "conn closed"), strings.HasSuffix(err.Error(), "database is closed"):
		return Away
	}
	return Inside
}

// commitTime bounds a commit, apart from the deadline of the request: once begun, it is waited for.
const commitTime = 20 * time.Second

// tries bounds how often a transaction that met another is begun again.
const tries = 6

// stepBack is how long one of two that met waits before it begins again, at least and, doubled with every try, at most:
// the other has to wake up first, or the two meet again.
const stepBack = 20 * time.Millisecond

// write runs do in a transaction. The deadline of ctx holds for everything do asks of the database, and not for the
// commit: a change that was kept is never answered as one that was not. What deadlocked with another is done again.
func (s *Store) write(ctx context.Context, do func(*Store) error) error {
	return s.writeWithin(ctx, commitTime, do)
}

// writeWithin is write with another bound for the whole.
func (s *Store) writeWithin(ctx context.Context, bound time.Duration, do func(*Store) error) error {
	if _, within := s.db.Statement.ConnPool.(gorm.TxCommitter); within {
		return do(s)
	}
	var err error
	for n := range tries {
		if n > 0 {
			select {
			case <-time.After(stepBack + rand.N(stepBack<<n)):
			case <-ctx.Done():
				return err
			}
		}
		err = s.db.WithContext(ctx).Connection(func(conn *gorm.DB) error {
			commit, cancel := context.WithTimeout(context.WithoutCancel(ctx), bound)
			defer cancel()
			return conn.WithContext(commit).Transaction(func(tx *gorm.DB) error {
				return do(&Store{tx.WithContext(ctx)})
			})
		})
		if err == nil || TroubleOf(err) != Clashed || ctx.Err() != nil {
			return err
		}
	}
	return err
}

// Snapshot runs do on the database as it is at one moment.
func (s *Store) Snapshot(ctx context.Context, do func(*Store) error) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error { return do(&Store{tx}) },
		&sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true})
}

// ErrKeyUsed says that a key came with another request before.
var ErrKeyUsed = errors.New("this request key came with another request before: a key stands for one")

// Key names a request, so that asking again is harmless. Print is a digest of all that is asked.
type Key struct {
	Name  string
	Print []byte
}

type keyOf struct{}

// WithKey gives a context under which the next write happens once, however often it is asked for.
func WithKey(ctx context.Context, k Key) context.Context { return context.WithValue(ctx, keyOf{}, k) }

// Unkeyed gives a context for a write that follows one under a key, in the same request.
func Unkeyed(ctx context.Context) context.Context { return context.WithValue(ctx, keyOf{}, nil) }

// made names what a write made: a rig or shelf entry at a revision.
type made struct {
	ID     string `json:"id"`
	Number int    `json:"number"`
}

// once is write, except that under a key it gives what the first request of that key made.
func (s *Store) once(ctx context.Context, do func(*Store) ([]made, error)) (list []made, again bool, err error) {
	key, keyed := ctx.Value(keyOf{}).(Key)
	if !keyed {
		err = s.write(ctx, func(s *Store) error { list, err = do(s); return err })
		return list, false, err
	}
	unkeyed := context.WithValue(ctx, keyOf{}, nil)
	err = s.write(ctx, func(s *Store) error {
		again = false
		took := s.db.Exec("insert into requests (key, print, made, at) values (?, ?, '[]', now()) on conflict do nothing",
			key.Name, key.Print)
		if took.Error != nil {
			return took.Error
		}
		if took.RowsAffected == 0 {
			var was struct{ Print, Made []byte }
			if err := s.db.Raw("select print, made from requests where key = ?", key.Name).Scan(&was).
				Error; err != nil {
				return err
			}
			if !bytes.Equal(was.Print, key.Print) {
				return ErrKeyUsed
			}
			again = true
			return json.Unmarshal(was.Made, &list)
		}
		var err error
		if list, err = do(&Store{s.db.WithContext(unkeyed)}); err != nil {
			return err
		}
		text, err := json.Marshal(list)
		if err != nil {
			return err
		}
		return s.db.Exec("update requests set made = ?::jsonb where key = ?", string(text), key.Name).Error
	})
	return list, again, err
}

// keepKeys is how long a key is known.
const keepKeys = "7 days"

func (s *Store) forgetKeys(ctx context.Context) error {
	return s.db.WithContext(ctx).Exec("delete from requests where at < now() - interval '" + keepKeys + "'").Error
}
