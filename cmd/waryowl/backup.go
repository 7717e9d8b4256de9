package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"time"

	"github.com/spf13/cobra"

	"waryowl/internal/app/act"
	"waryowl/internal/backup"
	"waryowl/internal/mariadb"
	"waryowl/internal/server"
	"waryowl/internal/store"
)

// dataSource is the database of the settings, for whoever may change its schema; close ends what was started for it.
func dataSource(ctx context.Context, start func(context.Context, mariadb.Config) (*mariadb.Server,
	error)) (owner string,
	closeAll func(), err error) {
	if dsn := os.Getenv("WARYOWL_DSN"); dsn != "" {
		return setting("WARYOWL_OWNER_DSN", dsn), func() {}, nil
	}
	db, err := start(ctx, mariadb.Config{Dir: filepath.Join(setting("WARYOWL_VAR", "var"), "db")})
	if err != nil {
		return "", nil, err
	}
	return db.OwnerDSN("waryowl"), func() { _ = db.Stop() }, nil
}

// readWhole reads every room of a restored record once.
func readWhole(ctx context.Context, dsn string) error {
	db, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	if pool, err := db.DB(); err == nil {
		defer pool.Close()
	}
	return server.ReadEveryRoom(ctx, &act.Service{DB: db, DSN: dsn, Now: time.Now})
}

func backupCommand() *cobra.Command {
	return &cobra.Command{Use: "backup FILE", Short: "Write the whole record into a file, while the application runs",
		Args: cobra.ExactArgs(1), RunE: func(cmd *cobra.Command, args []string) error {
			dsn, closeAll, err := dataSource(cmd.Context(), mariadb.Join)
			if err != nil {
				return err
			}
			defer closeAll()
			if _, err := os.Stat(args[0]); err == nil {
				return fmt.Errorf("backup: %s is there already; name another file", args[0])
			}
			if dsn, err = store.Resolve(cmd.Context(), dsn); err != nil {
				return err
			}
			m, err := backup.File(cmd.Context(), dsn, store.Edition(), time.Now(), args[0])
			if err == nil {
				told(cmd, args[0], m)
			}
			return err
		}}
}

func restoreCommand() *cobra.Command {
	var replace, verify bool
	c := &cobra.Command{Use: "restore FILE", Short: "Put a backup into an empty record, or check it",
		Args: cobra.ExactArgs(1), RunE: func(cmd *cobra.Command, args []string) error {
			f, err := os.Open(args[0])
			if err != nil {
				return err
			}
			defer f.Close()
			info, err := f.Stat()
			if err != nil {
				return err
			}
			start := mariadb.Alone // nobody may serve meanwhile
			if verify {
				start = mariadb.Join
			}
			dsn, closeAll, err := dataSource(cmd.Context(), start)
			if err != nil {
				return err
			}
			defer closeAll()
			m, err := backup.Restore(cmd.Context(), dsn, f, info.Size(),
				backup.Way{Replace: replace, Trial: verify, Read: readWhole, Now: time.Now()})
			if err == nil {
				told(cmd, args[0], m)
			}
			return err
		}}
	c.Flags().BoolVar(&replace, "replace", false, "in the place of the record that is there, which is kept for a week")
	c.Flags().BoolVar(&verify, "verify", false,
		"put the file into a database of its own, read it whole, and change nothing")
	return c
}

func told(cmd *cobra.Command, file string, m backup.Manifest) {
	rows := 0
	for _, t := range m.Tables {
		rows += t.Rows
	}
	fmt.Fprintf(
		cmd.OutOrStdout(),
		"%s: %d rows of %d tables, schema %d, taken %s\n",
		file,
		rows,
		len(m.Tables),
		m.Schema,
		m.Taken.Format(time.RFC3339),
	)
}

// scheduled is how backups are taken by themselves: WARYOWL_BACKUP_DIR, each WARYOWL_BACKUP_HOURS (24), of which the
// newest WARYOWL_BACKUP_KEEP (14) stay.
func scheduled() (dir string, every time.Duration, keep int, err error) {
	dir = os.Getenv("WARYOWL_BACKUP_DIR")
	for _, x := range []struct {
		name string
		n    *int
		or   int
	}{{"WARYOWL_BACKUP_HOURS", new(int), 24}, {"WARYOWL_BACKUP_KEEP", &keep, 14}} {
		if *x.n, err = strconv.Atoi(setting(x.name, strconv.Itoa(x.or))); err != nil || *x.n < 1 || *x.n > 8760 {
			return "", 0, 0, fmt.Errorf(
				"%s: found %q; allowed: a whole number from 1 to 8760",
				x.name,
				os.Getenv(x.name),
			)
		}
		if x.name == "WARYOWL_BACKUP_HOURS" {
			every = time.Duration(*x.n) * time.Hour
		}
	}
	return dir, every, keep, nil
}

// house tells of the folder of backups and of the disk of the database.
func house(free func() (uint64, bool)) func() act.House {
	return func() act.House {
		h := act.House{FreeGB: -1}
		if bytes, known := free(); known {
			h.FreeGB = float64(bytes) / 1e9
		}
		if dir := os.Getenv("WARYOWL_BACKUP_DIR"); dir != "" {
			h.Backups, h.Backup = true, backup.Newest(dir)
		}
		return h
	}
}
