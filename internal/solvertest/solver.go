// Package solvertest hands a programme to CBC, a general solver of integer programmes from Debian, so that benchmarks can
// stand our engines beside it. It is for tests alone.
package solvertest

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// CBC solves a programme in LP format and returns its objective and the time that took; without CBC the benchmark is
// skipped.
func CBC(b *testing.B, programme string) (float64, time.Duration) {
	b.Helper()
	cbc, err := exec.LookPath("cbc")
	if err != nil {
		b.Skip("cbc is not installed")
	}
	file := filepath.Join(b.TempDir(), "question.lp")
	if err := os.WriteFile(file, []byte(programme), 0o600); err != nil {
		b.Fatal(err)
	}
	start := time.Now()
	text, err := exec.Command(cbc, file, "sec", "60", "solve").CombinedOutput()
	took := time.Since(start)
	if err != nil {
		b.Fatalf("%v: %s", err, text)
	}
	for line := range strings.Lines(string(text)) {
		var x float64
		for _, head := range []string{"Objective value:", "Optimal objective"} {
			if rest, found := strings.CutPrefix(strings.TrimSpace(line), head); found {
				fmt.Sscanf(strings.TrimSpace(rest), "%g", &x)
				return x, took
			}
		}
	}
	b.Fatalf("CBC found nothing: %s", text)
	return 0, took
}
