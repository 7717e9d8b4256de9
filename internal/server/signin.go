package server

import (
	"context"
	"database/sql"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/scs/mysqlstore"
)

const noDatabase = "The database does not answer; nothing was changed. Try again in a moment."

// signInPatience is how long the database may take to find who is signed in: when it hangs, that is said soon.
const signInPatience = 3 * time.Second

// signIns keeps the sessions in the database, and waits for it no longer than that.
type signIns struct{ *mysqlstore.MySQLStore }

// FindCtx is Find with an end.
func (s *signIns) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	ctx, cancel := context.WithTimeout(ctx, signInPatience)
	defer cancel()
	var data []byte
	err := s.DB.QueryRowContext(ctx, "SELECT data FROM sessions WHERE token = ? AND UTC_TIMESTAMP(6) < expiry",
		token).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	return data, err == nil, err
}

// CommitCtx is Commit with an end.
func (s *signIns) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	_, err := s.DB.ExecContext(ctx, "INSERT INTO sessions (token, data, expiry) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE "+
		"data = VALUES(data), expiry = VALUES(expiry)", token, data, expiry.UTC())
	return err
}

// DeleteCtx is Delete with an end.
func (s *signIns) DeleteCtx(ctx context.Context, token string) error {
	_, err := s.DB.ExecContext(ctx, "DELETE FROM sessions WHERE token = ?", token)
	return err
}

const (
	sessionCookie = "waryowl"
	hostPrefix    = "__Host-" // over TLS: a browser takes such a cookie from this host alone
)

// hostCookie gives the session cookie of a request over TLS the name that it has inside.
func hostCookie(r *http.Request) *http.Request {
	list := r.CookiesNamed(hostPrefix + sessionCookie)
	r = r.Clone(r.Context())
	var kept []string
	for _, c := range r.Cookies() {
		if c.Name != sessionCookie && c.Name != hostPrefix+sessionCookie {
			kept = append(kept, c.Name+"="+c.Value)
		}
	}
	if len(list) > 0 {
		kept = append(kept, sessionCookie+"="+list[0].Value)
	}
	r.Header.Del("Cookie")
	if len(kept) > 0 {
		r.Header.Set("Cookie", strings.Join(kept, "; "))
	}
	return r
}
