package web

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/store"
)

// backupView is the page of copies.
type backupView struct {
	Page   Page
	Folder string
	Every  int // hours; 0: none by the clock
	Keep   int
	Copies []copyView
	Last   string // when the last one was made, in words; "": none yet
	Failed string // why the last try failed
	Kept   string // where what was replaced lies, after a restore
	Room   string // what all of that takes, and what is left
	Full   string // a warning that little is left; "": enough
}

type copyView struct{ Name, When, Size string }

// Settings of the copies by the clock, and what they are where nothing is set.
const (
	backupEvery  = "backup-every"
	backupKeep   = "backup-keep"
	backupLast   = "backup-last"
	backupFailed = "backup-failed"

	everyHours = 24
	keepCopies = 7
	mostKept   = 60
	maxBackup  = 1 << 30
	firstLook  = time.Minute
	lookEvery  = 5 * time.Minute
)

// backupPlan is how often copies are made, in hours (0: never), and how many are kept.
func (s *Server) backupPlan(ctx context.Context) (every, keep int) {
	every, keep = everyHours, keepCopies
	if v, err := s.store.Setting(ctx, backupEvery); err == nil && v != "" {
		every = number(v, every)
	}
	if v, err := s.store.Setting(ctx, backupKeep); err == nil && v != "" {
		keep = number(v, keep)
	}
	return every, keep
}

// KeepCopies makes copies by the clock until the context ends. A clock that was set back does not stop them.
func (s *Server) KeepCopies(ctx context.Context) {
	swept := time.Now()
	for wait := firstLook; ; wait = lookEvery {
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
		s.copyIfDue(ctx)
		if time.Since(swept) >= sweepEvery {
			swept = time.Now()
			if _, err := s.store.Sweep(sweepEvery); err != nil {
				slog.WarnContext(ctx, "what was left behind is not swept", "error", err)
			}
		}
	}
}

// sweepEvery is how often the folder of the data is swept, and how old what goes is.
const sweepEvery = 24 * time.Hour

// copyIfDue makes a copy where the last one is older than it may be, and notes how that went.
func (s *Server) copyIfDue(ctx context.Context) {
	every, keep := s.backupPlan(ctx)
	if every == 0 {
		return
	}
	last, _ := s.store.Setting(ctx, backupLast)
	at, err := time.Parse(time.RFC3339, last)
	if since := s.now().Sub(at); err == nil && since >= 0 && since < time.Duration(every)*time.Hour {
		return
	}
	s.copyNow(ctx, keep)
}

// copyNow makes a copy, and notes how that went.
func (s *Server) copyNow(ctx context.Context, keep int) error {
	err := s.store.CopyNow(ctx, keep)
	if err != nil {
		slog.ErrorContext(ctx, "no copy was made", "error", err)
		s.store.SetSetting(ctx, backupFailed, s.now().Format(time.RFC3339)+" "+err.Error())
		return err
	}
	if err := s.store.SetSetting(ctx, backupLast, s.now().Format(time.RFC3339)); err != nil {
		return err
	}
	return s.store.SetSetting(ctx, backupFailed, "")
}

func (s *Server) backup(c *gin.Context) {
	ctx := c.Request.Context()
	v := &backupView{Page: s.page(c, "Copies"), Folder: s.store.Folder(), Kept: c.Query("kept")}
	v.Every, v.Keep = s.backupPlan(ctx)
	for _, k := range s.store.TimedCopies() {
		v.Copies = append(v.Copies, copyView{k.Name, k.At.Local().Format("2 Jan 2006, 15:04"), sizeOf(k.Bytes)})
	}
	if last, _ := s.store.Setting(ctx, backupLast); last != "" {
		if at, err := time.Parse(time.RFC3339, last); err == nil {
			v.Last = since(s.now().Sub(at))
		}
	}
	if room, err := s.store.Room(); err == nil {
		v.Room = fmt.Sprintf("The data take %s, copies by the clock %s, what was replaced or copied before an update %s; "+
			"%s are free on this disk.", sizeOf(room.Data), sizeOf(room.Copies), sizeOf(room.Kept), sizeOf(room.Free))
		v.Full = room.Warning()
	}
	v.Failed, _ = s.store.Setting(ctx, backupFailed)
	s.render(c, "backup", v)
}

// sizeOf says bytes in kilobytes or megabytes.
func sizeOf(bytes int64) string {
	if bytes < 1<<20 {
		return fmt.Sprintf("%d KB", (bytes+1023)/1024)
	} else if bytes >= 10<<30 {
		return fmt.Sprintf("%d GB", bytes>>30)
	}
	return fmt.Sprintf("%.1f MB", float64(bytes)/(1<<20))
}

// setBackup changes how often copies are made, makes one now, or brings one back.
func (s *Server) setBackup(c *gin.Context) {
	ctx := c.Request.Context()
	var err error
	to := "/backup"
	switch c.PostForm("do") {
	case "now":
		_, keep := s.backupPlan(ctx)
		err = s.copyNow(ctx, keep)
	case "plan":
		every, bad := strconv.Atoi(c.PostForm("every"))
		keep, worse := strconv.Atoi(c.PostForm("keep"))
		if bad != nil || worse != nil || every < 0 || every > 24*31 || keep < 1 || keep > mostKept {
			err = inputError{fmt.Errorf("hours from 0 (never) to %d, and from 1 to %d copies", 24*31, mostKept)}
			break
		}
		if err = s.store.SetSetting(ctx, backupEvery, strconv.Itoa(every)); err == nil {
			err = s.store.SetSetting(ctx, backupKeep, strconv.Itoa(keep))
		}
	case "restore":
		var kept string
		if kept, err = s.restore(c); err == nil {
			to += "?kept=" + filepath.Base(kept)
		}
	default:
		err = inputError{errors.New("now, plan or restore")}
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, to)
}

// restore brings back a copy by the clock, or one that is sent.
func (s *Server) restore(c *gin.Context) (kept string, err error) {
	in := s.store.CopyPath(c.PostForm("copy"))
	if in == "" {
		file, _, err := c.Request.FormFile("file")
		if err != nil {
			return "", inputError{errors.New("choose a copy")}
		}
		defer file.Close()
		temp, err := os.CreateTemp(s.store.Folder(), "upload-")
		if err != nil {
			return "", err
		}
		defer os.Remove(temp.Name())
		_, err = io.Copy(temp, file)
		if err = errors.Join(err, temp.Close()); err != nil {
			return "", err
		}
		in = temp.Name()
	}
	kept, err = s.store.Replace(c.Request.Context(), in)
	if err != nil && store.Explain(err) == nil {
		if words := store.CopyTrouble(err); words != "" {
			return "", inputError{errors.New(words)}
		}
		return "", err
	}
	if err == nil {
		s.hub.all()
	}
	return kept, err
}

// archive sends everything in one file.
func (s *Server) archive(c *gin.Context) {
	dir, err := os.MkdirTemp(s.store.Folder(), "archive-")
	if err != nil {
		s.fail(c, err)
		return
	}
	defer os.RemoveAll(dir)
	name := "vindel-" + s.now().Format("2006-01-02-1504") + ".zip"
	if err := s.store.ArchiveTo(c.Request.Context(), filepath.Join(dir, name)); err != nil {
		s.fail(c, err)
		return
	}
	c.FileAttachment(filepath.Join(dir, name), name)
}
