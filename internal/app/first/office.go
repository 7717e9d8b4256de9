package first

import (
	"context"
	"fmt"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/core/answer"
	"waryowl/internal/store"
)

// Office is what an administrator looks after.
type Office struct {
	People   []RoleCount `json:"people" nullable:"false"`
	Links    int         `json:"links" doc:"people who have not set a password yet"`
	Backup   *time.Time  `json:"backup,omitempty" doc:"of the last backup in the folder that the program keeps"`
	Kept     string      `json:"kept" doc:"where backups go, or why there are none"`
	FreeGB   float64     `json:"free_gb" doc:"on the disk of the database; -1: not known"`
	Failures int         `json:"failures" doc:"requests since midnight, or since the start, that the program could not finish"`
}

// RoleCount is how many people have a role.
type RoleCount struct {
	Role   string `json:"role"`
	Active int    `json:"active"`
}

// oldBackup is from how long on a backup is old (house).
const oldBackup = 2 * 24 * time.Hour

// office is the first page of those who run the workshop's program.
func (v *Room) office(ctx context.Context, s *act.Service) error {
	o := &Office{People: []RoleCount{}, FreeGB: -1, Kept: "no folder for backups is set: set WARYOWL_BACKUP_DIR"}
	db := s.DB.WithContext(ctx)
	if err := db.Model(&store.Account{}).Select("role, COUNT(*) AS active").Where("disabled = 0").Group("role").
		Order("role").Scan(&o.People).Error; err != nil {
		return err
	}
	links := int64(0)
	if err := db.Model(&store.Account{}).Where("disabled = 0 AND password_hash = ''").Count(&links).Error; err != nil {
		return err
	}
	o.Links = int(links)
	if s.House != nil {
		h := s.House()
		o.FreeGB, o.Failures = h.FreeGB, s.Failures()
		if h.Backups {
			o.Kept = "the program takes them by itself"
			if !h.Backup.IsZero() {
				o.Backup = &h.Backup
			}
		}
		switch {
		case !h.Backups:
			v.Next = append(v.Next, Next{Title: "Say where backups go", Why: "none is taken by itself",
				Path: "/#office", Look: true})
		case h.Backup.IsZero() || s.Now().Sub(h.Backup) > oldBackup:
			v.Next = append(v.Next, Next{Title: "Look why no backup was taken",
				Why:  "the last one is older than two days",
				Path: "/#office", Look: true})
		}
		if h.FreeGB >= 0 && h.FreeGB < 2 {
			v.Next = append(v.Next, Next{Title: "Make room on the disk", Why: fmt.Sprintf("%.1f GB are free", h.FreeGB),
				Path: "/#office", Look: true})
		}
		if o.Failures > 0 {
			v.Next = append(v.Next, Next{Title: "Read the program's log", Why: answer.Counted(o.Failures, "request") +
				" could not be finished today", Path: "/#office", Look: true})
		}
	}
	if o.Links > 0 {
		v.Next = append(v.Next, Next{Title: "Send links again", Why: answer.Counted(o.Links, "person") +
			" set no password yet", Path: "/accounts"})
	}
	v.Office = o
	return nil
}
