package server

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"os"
	"runtime/debug"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"eventether/internal/archive"
	"eventether/internal/store"
)

// restorePath takes an archive as it is: the one address that takes something else than JSON.
const restorePath = "/api/restore"

// mostArchive bounds an archive that is sent.
const mostArchive = 512 << 20

// backup sends everything as one archive.
func (a *api) backup(c *gin.Context) {
	f, err := os.CreateTemp("", "eventether-backup-*.zip")
	if err != nil {
		answer(c, err)
		return
	}
	defer os.Remove(f.Name())
	defer f.Close()
	now := time.Now()
	if err := archive.Write(c.Request.Context(), a.store, f, now); err != nil { // whole, before the status line
		answer(c, err)
		return
	}
	size, err := f.Seek(0, io.SeekEnd)
	if err == nil {
		_, err = f.Seek(0, io.SeekStart)
	}
	if err != nil {
		answer(c, err)
		return
	}
	c.DataFromReader(http.StatusOK, size, "application/zip", f,
		map[string]string{"Content-Disposition": `attachment; filename="eventether-` + now.Format(time.DateOnly) +
			`.zip"`})
}

// restoring is the archive that is being brought back, one at a time, or the last one: how far it is, and what became
// of it.
type restoring struct {
	sync.Mutex
	running  bool
	finished chan struct{}
	done, of int64
	report   *archive.Report
	problem  huma.StatusError
}

// Restoring tells how far bringing an archive back has come.
type Restoring struct {
	Running bool            `json:"running"`
	Done    int64           `json:"done" doc:"Bytes of the archive that are in"`
	Of      int64           `json:"of"`
	Report  *archive.Report `json:"report,omitempty"`
	Problem any             `json:"problem,omitempty" doc:"Why nothing of it was taken"`
}

// answersWithin is how long whoever sends an archive waits for the answer; what takes longer is asked for.
const answersWithin = 5 * time.Second

// restoreAll brings an archive back, and reports what was new, the same or clashing. What takes long goes on by itself:
// how far it is is told to whoever asks.
func (a *api) restoreAll(c *gin.Context) {
	r := a.restoring
	r.Lock()
	if r.running {
		r.Unlock()
		answer(c, huma.NewError(http.StatusConflict, "An archive is being brought back already. Wait until it is in."))
		return
	}
	r.running, r.done, r.of, r.report, r.problem, r.finished = true, 0, 0, nil, nil, make(chan struct{})
	r.Unlock()
	f, size, err := received(c)
	if err != nil {
		r.end(nil, err)
		answer(c, err)
		return
	}
	ctx, cancel := context.WithCancel(context.WithoutCancel(c.Request.Context()))
	go func() {
		defer cancel()
		defer os.Remove(f.Name())
		defer f.Close()
		stop := make(chan struct{})
		defer close(stop)
		go func() {
			select {
			case <-a.closing: // all of it is rolled back
				cancel()
			case <-stop:
			}
		}()
		r.end(read(ctx, a.store, f, size, func(done, of int64) {
			r.Lock()
			r.done, r.of = done, of
			r.Unlock()
		}))
	}()
	late := time.NewTimer(answersWithin)
	defer late.Stop()
	select {
	case <-r.finished:
	case <-late.C:
	case <-c.Request.Context().Done():
		return
	}
	now := r.now()
	switch {
	case now.Running:
		c.JSON(http.StatusAccepted, now)
	case now.Report != nil:
		c.JSON(http.StatusOK, now.Report)
	default:
		r.Lock()
		problem := r.problem
		r.Unlock()
		answer(c, problem)
	}
}

// read reads an archive outside any request: a fault of ours in it ends with an error, and not the application.
func read(ctx context.Context, s *store.Store, from io.ReaderAt, size int64,
	progress archive.Progress) (report *archive.Report, err error) {
	defer func() {
		if fault := recover(); fault != nil {
			slog.Error("archive", "panic", fault, "stack", string(debug.Stack()))
			report, err = nil, fmt.Errorf("reading the archive: %v", fault)
		}
	}()
	return archive.Read(ctx, s, from, size, progress)
}

// received keeps an archive that is sent in a file of its own.
func received(c *gin.Context) (*os.File, int64, error) {
	f, err := os.CreateTemp("", "eventether-restore-*.zip")
	if err != nil {
		return nil, 0, err
	}
	size, err := io.Copy(f, io.LimitReader(c.Request.Body, mostArchive+1))
	switch {
	case err != nil:
		err = huma.NewError(http.StatusBadRequest, "the archive did not come in whole; nothing of it was taken")
	case size > mostArchive:
		err = huma.NewError(http.StatusRequestEntityTooLarge, fmt.Sprintf("the archive is larger than %d MB",
			mostArchive>>20))
	default:
		return f, size, nil
	}
	_ = f.Close()
	_ = os.Remove(f.Name())
	return nil, 0, err
}

// end notes what became of an archive.
func (r *restoring) end(report *archive.Report, err error) {
	var bad *archive.Unusable
	var status huma.StatusError
	switch {
	case err == nil:
	case errors.As(err, &bad):
		status = huma.NewError(http.StatusUnprocessableEntity, err.Error()+". Nothing of it was taken.")
	case errors.As(err, &status):
	default:
		_ = errors.As(failed(err), &status)
	}
	r.Lock()
	defer r.Unlock()
	r.running, r.report, r.problem = false, report, status
	close(r.finished)
}

func (r *restoring) now() Restoring {
	r.Lock()
	defer r.Unlock()
	out := Restoring{Running: r.running, Done: r.done, Of: r.of, Report: r.report}
	if r.problem != nil {
		out.Problem = r.problem
	}
	return out
}

// restored tells how far bringing an archive back has come, and what became of the last one.
func (a *api) restored(c *gin.Context) { c.JSON(http.StatusOK, a.restoring.now()) }

// answer says what went wrong, as the rest of the API does.
func answer(c *gin.Context, err error) {
	var status huma.StatusError
	if !errors.As(err, &status) {
		slog.Error("archive", "error", err)
		status = huma.NewError(http.StatusInternalServerError,
			"Something went wrong inside, and nothing was changed; it is in the log.")
	}
	c.Header("Content-Type", "application/problem+json")
	c.JSON(status.GetStatus(), status)
}
