package backup

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// File takes a backup into a file: it is there whole or not at all.
func File(ctx context.Context, dsn, program string, now time.Time, path string) (Manifest, error) {
	part := path + ".part"
	f, err := os.OpenFile(part, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return Manifest{}, err
	}
	m, err := Write(ctx, dsn, program, now, f)
	if err == nil {
		err = f.Sync()
	}
	if e := f.Close(); err == nil {
		err = e
	}
	if err == nil {
		err = os.Rename(part, path)
	}
	if err != nil {
		os.Remove(part)
	}
	return m, err
}

const prefix = "waryowl-"

// Keep takes a backup into a folder at once and then after each interval, and keeps the newest ones, until its context ends.
// A backup that fails is told and tried again at the next turn.
func Keep(ctx context.Context, dsn, program, dir string, every time.Duration, most int, log *slog.Logger) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("backup: cannot make the folder: %w", err)
	}
	turn := time.NewTimer(0)
	defer turn.Stop()
	for {
		select {
		case <-ctx.Done():
			return nil
		case now := <-turn.C:
			name := filepath.Join(dir, prefix+now.UTC().Format("20060102-150405")+".zip")
			if m, err := File(ctx, dsn, program, now, name); err != nil {
				if ctx.Err() == nil {
					log.Error("backup failed", "err", err)
				}
			} else {
				log.Info("backup taken", "file", name, "schema", m.Schema, "tables", len(m.Tables))
				if err := rotate(dir, most); err != nil {
					log.Error("old backups could not be removed", "err", err)
				}
			}
			turn.Reset(every)
		}
	}
}

// rotate removes all but the newest backups of a folder; nothing else in it is touched.
func rotate(dir string, most int) error {
	list, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	var names []string
	for _, e := range list {
		if n := e.Name(); strings.HasPrefix(n, prefix) && strings.HasSuffix(n, ".zip") && len(n) == len(prefix)+19 {
			names = append(names, n)
		}
	}
	slices.Sort(names)
	for _, n := range names[:max(0, len(names)-most)] {
		if err := os.Remove(filepath.Join(dir, n)); err != nil {
			return err
		}
	}
	return nil
}

// Newest is when the newest backup of a folder was taken; zero where there is none.
func Newest(dir string) time.Time {
	list, err := os.ReadDir(dir)
	if err != nil {
		return time.Time{}
	}
	for _, e := range slices.Backward(list) { // their names are in the order of time
		text, is := strings.CutPrefix(e.Name(), prefix)
		if at, err := time.Parse("20060102-150405.zip", text); is && err == nil {
			return at
		}
	}
	return time.Time{}
}
