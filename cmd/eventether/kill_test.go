package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"eventether/internal/demo/rigs"
)

// kills is how often the server is killed; KILLS=200 for the long run.
func kills(t *testing.T) int {
	n, err := strconv.Atoi(os.Getenv("KILLS"))
	if err != nil {
		n = 6
	}
	if testing.Short() {
		t.Skip("takes a minute")
	}
	return n
}

// The server is killed between ticks, at any moment: no tick that was acknowledged is lost, and one that was sent again
// is there once.
func TestKilledBetweenTicks(t *testing.T) {
	dir := t.TempDir()
	bin := filepath.Join(dir, "eventether")
	out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	data := filepath.Join(dir, "db")
	night := ""
	acknowledged := []string{}
	for round := range kills(t) + 1 {
		server, url := startServer(t, bin, data)
		post := func(path, body string) (int, string) {
			res, err := http.Post(url+path, "application/json", strings.NewReader(body))
			if err != nil {
				return 0, err.Error()
			}
			defer res.Body.Close()
			text, err := io.ReadAll(res.Body)
			if err != nil {
				return 0, err.Error()
			}
			return res.StatusCode, string(text)
		}
		var got struct {
			ID  string
			Ops []struct{ ID string }
		}
		if night == "" {
			status, text := post("/api/rigs", text(t, rigs.LoftEven()))
			require.Equal(t, 200, status, text)
			require.NoError(t, json.Unmarshal([]byte(text), &got))
			status, text = post("/api/rigs/"+got.ID+"/nights", `{"airAt":"2026-12-04T19:30:00Z","people":1}`)
			require.Equal(t, 200, status, text)
			require.NoError(t, json.Unmarshal([]byte(text), &got))
			night = got.ID
		}
		res, err := http.Get(url + "/api/nights/" + night + "/file")
		require.NoError(t, err)
		require.NoError(t, json.NewDecoder(res.Body).Decode(&got))
		_ = res.Body.Close()
		there := map[string]int{}
		for _, op := range got.Ops {
			there[op.ID]++
		}
		for _, id := range acknowledged {
			require.Equal(t, 1, there[id], "round %d: %s was acknowledged", round, id)
		}
		// Ticks until it dies under them.
		dead := make(chan struct{})
		after := time.Duration(rand.IntN(300)) * time.Millisecond
		time.AfterFunc(after, func() {
			_ = syscall.Kill(server.Process.Pid, syscall.SIGKILL)
			_ = server.Wait()
			close(dead)
		})
		for i := 0; ; i++ {
			id := fmt.Sprintf("round-%04d-%05d", round, i)
			body := fmt.Sprintf(`{"ops":[{"id":%q,"kind":"tick","step":"step %d","at":%d}]}`, id, i%7,
				time.Now().UnixMilli())
			if status, _ := post("/api/nights/"+night+"/ops", body); status != 200 {
				break
			}
			acknowledged = append(acknowledged, id)
		}
		<-dead
	}
	t.Logf("%d acknowledged ticks", len(acknowledged))
	require.NotEmpty(t, acknowledged)
	server, _ := startServer(t, bin, data) // so that its database ends too
	require.NoError(t, server.Process.Signal(syscall.SIGINT))
	_ = server.Wait()
}

var printed = regexp.MustCompile(`http://[\d.:]+`)

func startServer(t *testing.T, bin, data string) (*exec.Cmd, string) {
	t.Helper()
	server := exec.Command(bin, "serve", "--data", data, "--port", "4890")
	pipe, err := server.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, server.Start())
	lines := bufio.NewScanner(pipe)
	for lines.Scan() {
		if url := printed.FindString(lines.Text()); url != "" {
			go func() { _, _ = io.Copy(io.Discard, pipe) }()
			return server, url
		}
	}
	_ = server.Wait()
	require.Fail(t, "the server did not start")
	return nil, ""
}

// The server is killed while an archive is brought back, at any moment: all of it is there afterwards, or nothing; what
// was answered as taken is there.
func TestKilledWhileRestoring(t *testing.T) {
	dir := t.TempDir()
	bin := filepath.Join(dir, "eventether")
	out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	const many = 30
	server, url := startServer(t, bin, filepath.Join(dir, "from"))
	for i := range many {
		r := rigs.LoftEven()
		r.Name = fmt.Sprintf("Rig %d", i)
		res, err := http.Post(url+"/api/rigs", "application/json", strings.NewReader(text(t, r)))
		require.NoError(t, err)
		require.Equal(t, 200, res.StatusCode)
		_ = res.Body.Close()
	}
	res, err := http.Get(url + "/api/backup")
	require.NoError(t, err)
	archive, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	_ = res.Body.Close()
	end := func(server *exec.Cmd) {
		require.NoError(t, server.Process.Signal(syscall.SIGINT))
		_ = server.Wait()
	}
	end(server)
	folder, whole, nothing := 0, 0, 0
	for round := range max(2, kills(t)/3) {
		data := filepath.Join(dir, fmt.Sprint("to", folder))
		server, url := startServer(t, bin, data)
		dead := make(chan struct{})
		time.AfterFunc(time.Duration(rand.IntN(2500))*time.Millisecond, func() {
			_ = server.Process.Kill()
			_ = server.Wait()
			close(dead)
		})
		answered := false
		if res, err := http.Post(url+"/api/restore", "application/zip", strings.NewReader(string(archive))); err ==
			nil {
			answered = res.StatusCode == 200
			_ = res.Body.Close()
		}
		<-dead
		server, url = startServer(t, bin, data)
		res, err := http.Get(url + "/api/rigs")
		require.NoError(t, err)
		var list []struct{ Name string }
		require.NoError(t, json.NewDecoder(res.Body).Decode(&list))
		_ = res.Body.Close()
		require.Contains(t, []int{0, many}, len(list), "round %d: half of it", round)
		if answered {
			require.Len(t, list, many, "round %d: it was answered as taken", round)
		}
		end(server)
		if len(list) == 0 {
			nothing++
		} else {
			whole++
			folder++
		}
	}
	t.Logf("%d times whole, %d times nothing", whole, nothing)
}
