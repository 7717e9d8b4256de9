package mariadb

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"syscall"
	"time"
)

// Start makes the data folder if need be, and starts the server or takes over one that is left running. The errors are
// one line each and say what to do. A short task that is just ending is waited for.
func Start(ctx context.Context, c Config) (*Server, error) {
	s, err := folder(c)
	if err != nil {
		return nil, err
	}
	for end := time.Now().Add(lockPatience); ; {
		if err = s.takeLock(); err == nil || !errors.Is(err, ErrUsed) || time.Now().After(end) {
			break
		}
		select {
		case <-ctx.Done():
			return nil, ctx.Err()
		case <-time.After(50 * time.Millisecond):
		}
	}
	if err != nil {
		return nil, err
	}
	if err := s.start(ctx, c); err != nil {
		s.lock.Close()
		return nil, err
	}
	return s, nil
}

const lockPatience = 3 * time.Second

func folder(c Config) (*Server, error) {
	dir, err := filepath.Abs(c.Dir)
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(filepath.Join(dir, "tmp"), 0o700); err != nil {
		return nil, fmt.Errorf("mariadb: cannot make the data folder: %w", err)
	}
	return &Server{dir: dir}, nil
}

// ErrUsed says that another program keeps the data folder.
var ErrUsed = errors.New("mariadb: another Wary Owl uses this data folder; stop it, or set WARYOWL_VAR to another folder")

// errTasks says that a backup or another short task uses the data folder.
var errTasks = errors.New("mariadb: a backup or another command uses this data folder at this moment; wait for its end")

// Alone is [Start] where nobody else may use the data folder meanwhile, not even a short task.
func Alone(ctx context.Context, c Config) (*Server, error) {
	s, err := Start(ctx, c)
	if err != nil {
		return nil, err
	}
	if s.task, err = flock(filepath.Join(s.dir, "tasks"), syscall.LOCK_EX); err != nil {
		s.lock.Close() // whoever is at work ends the server
		return nil, errTasks
	}
	return s, nil
}

// Join starts or uses the server for a short task beside a program that serves, or that begins to serve meanwhile:
// the data folder stays free for it. The last task ends a server that no program has taken over.
func Join(ctx context.Context, c Config) (*Server, error) {
	f, err := folder(c)
	if err != nil {
		return nil, err
	}
	task, err := flock(filepath.Join(f.dir, "tasks"), syscall.LOCK_SH)
	if err != nil {
		return nil, errTasks
	}
	s := f
	switch err = s.takeLock(); {
	case err == nil:
		if err = s.start(ctx, c); err == nil {
			s.lock.Close()
			s.lock = nil
		} else {
			s.lock.Close()
		}
	case errors.Is(err, ErrUsed):
		if err = s.secrets(); err == nil {
			err = s.await(ctx)
		}
	}
	if err != nil {
		task.Close()
		return nil, err
	}
	s.task = task
	return s, nil
}

// Stop ends the server and waits for it. A task leaves it to whoever uses it still.
func (s *Server) Stop() error {
	if s.lock == nil {
		defer s.task.Close()
		if s.takeLock() != nil { // a program serves
			return nil
		}
		// to hold the file alone instead of together with others
		if err := syscall.Flock(int(s.task.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
			return s.lock.Close()
		}
	}
	defer s.lock.Close()
	if s.task != nil {
		defer s.task.Close()
	}
	if err := s.stopProcess(); err != nil {
		return err
	}
	return os.RemoveAll(filepath.Dir(s.socket))
}

func (s *Server) takeLock() (err error) {
	s.lock, err = flock(filepath.Join(s.dir, "lock"), syscall.LOCK_EX)
	return err
}

// flock opens a file and locks it: alone, or together with others; [ErrUsed] where that cannot be at once.
func flock(path string, how int) (*os.File, error) {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("mariadb: cannot open the lock of the data folder: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), how|syscall.LOCK_NB); err != nil {
		f.Close()
		return nil, ErrUsed
	}
	return f, nil
}
