package server

import (
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"os"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"eventether/internal/archive"
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
	c.DataFromReader(http.StatusOK, size, "application/zip", f, map[string]string{"Content-Disposition": `attachment; filename="eventether-` + now.Format(time.DateOnly) + `.zip"`})
}

// restoreAll brings an archive back, and reports what was new, the same or clashing.
func (a *api) restoreAll(c *gin.Context) {
	f, err := os.CreateTemp("", "eventether-restore-*.zip")
	if err != nil {
		answer(c, err)
		return
	}
	defer os.Remove(f.Name())
	defer f.Close()
	size, err := io.Copy(f, io.LimitReader(c.Request.Body, mostArchive+1))
	switch {
	case err != nil:
		answer(c, huma.NewError(http.StatusBadRequest, "the archive did not come in whole; nothing of it was taken"))
		return
	case size > mostArchive:
		answer(c, huma.NewError(http.StatusRequestEntityTooLarge, fmt.Sprintf("the archive is larger than %d MB", mostArchive>>20)))
		return
	}
	report, err := archive.Read(c.Request.Context(), a.store, f, size)
	var bad *archive.Unusable
	switch {
	case errors.As(err, &bad):
		answer(c, huma.NewError(http.StatusUnprocessableEntity, bad.Error()+". Nothing of it was taken."))
	case err != nil:
		answer(c, failed(err))
	default:
		c.JSON(http.StatusOK, report)
	}
}

// answer says what went wrong, as the rest of the API does.
func answer(c *gin.Context, err error) {
	var status huma.StatusError
	if !errors.As(err, &status) {
		slog.Error("archive", "error", err)
		status = huma.NewError(http.StatusInternalServerError, "Something went wrong inside, and nothing was changed; it is in the log.")
	}
	c.Header("Content-Type", "application/problem+json")
	c.JSON(status.GetStatus(), status)
}
