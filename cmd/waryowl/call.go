package main

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"waryowl/internal/store"
)

// exitCode is an error with the code that the program ends with.
type exitCode struct {
	code int
	says string
}

func (e *exitCode) Error() string { return e.says }

// unreachable is the exit code of a call that no server answered.
const unreachable = 6

// callCommand asks a running server as another program would, with a token from a file that nobody else can read.
func callCommand() *cobra.Command {
	var file, data, key string
	c := &cobra.Command{Use: "call METHOD PATH", Short: "Ask a running server, with a token: for scripts",
		Args: cobra.ExactArgs(2),
		Long: "Ask a running server, with a token from a file that only its owner can read. WARYOWL_URL names the server " +
			"(http://127.0.0.1:8420).\nThe answer goes to standard output. Exit code: 0 for an answer of 2xx, 3, 4 or 5 for its class, " +
			"6 when no server answers, 2 for a wrong call.",
		RunE: func(cmd *cobra.Command, args []string) error {
			token, err := tokenOf(file)
			if err != nil {
				return err
			}
			var body io.Reader
			switch {
			case data == "-":
				body = cmd.InOrStdin()
			case strings.HasPrefix(data, "@"):
				text, err := os.ReadFile(data[1:])
				if err != nil {
					return err
				}
				body = bytes.NewReader(text)
			case data != "":
				body = strings.NewReader(data)
			}
			r, err := http.NewRequestWithContext(cmd.Context(), strings.ToUpper(args[0]),
				strings.TrimRight(setting("WARYOWL_URL", "http://127.0.0.1:8420"), "/")+args[1], body)
			if err != nil {
				return err
			}
			r.Header.Set("Authorization", "Bearer "+token)
			if r.Method != http.MethodGet && r.Method != http.MethodHead {
				if key == "" {
					key = store.NewID()
				}
				r.Header.Set("Idempotency-Key", key)
			}
			if body != nil {
				r.Header.Set("Content-Type", "application/json")
			}
			a, err := (&http.Client{Timeout: 2 * time.Minute}).Do(r)
			if err != nil {
				return &exitCode{unreachable, "call: no server answers: " + err.Error()}
			}
			defer a.Body.Close()
			if _, err := io.Copy(cmd.OutOrStdout(), a.Body); err != nil {
				return &exitCode{unreachable, "call: the answer broke off: " + err.Error()}
			}
			if a.StatusCode >= 300 {
				return &exitCode{a.StatusCode / 100, fmt.Sprintf("call: answered %d", a.StatusCode)}
			}
			return nil
		}}
	c.Flags().StringVar(&file, "token-file", "", "file with the token; WARYOWL_TOKEN_FILE, or ~/.config/waryowl/token")
	c.Flags().StringVarP(&data, "data", "d", "", "body of a change; @FILE reads it from a file, - from standard input")
	c.Flags().StringVar(&key, "key", "", "idempotency key, to send the same change again; a new one when left out")
	return c
}

// tokenOf reads a token from a file that only its owner can read.
func tokenOf(file string) (string, error) {
	if file == "" {
		file = os.Getenv("WARYOWL_TOKEN_FILE")
	}
	if file == "" {
		home, err := os.UserHomeDir()
		if err != nil {
			return "", err
		}
		file = filepath.Join(home, ".config", "waryowl", "token")
	}
	info, err := os.Stat(file)
	if err != nil {
		return "", fmt.Errorf("call: no token: %w; make one on your own page and keep it in a file of mode 0600", err)
	}
	if info.Mode().Perm()&0o077 != 0 {
		return "", fmt.Errorf("call: %s can be read by others: chmod 600 it", file)
	}
	text, err := os.ReadFile(file)
	if err != nil {
		return "", err
	}
	token := strings.TrimSpace(string(text))
	if token == "" {
		return "", errors.New("call: " + file + " is empty")
	}
	return token, nil
}
