package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"waryowl/internal/app/act"
	"waryowl/internal/exchange"
	"waryowl/internal/store"
)

// exportCommand writes models as documents, one a line, while they are read.
func exportCommand() *cobra.Command {
	var out string
	c := &cobra.Command{
		Use:   "export [MODEL …]",
		Short: "Write models with their studies as documents, one a line; all when none is named",
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			s, closeAll, err := beside(cmd.Context())
			if err != nil {
				return err
			}
			defer closeAll()
			models, err := store.List[store.Model](s.DB.WithContext(cmd.Context()), "maker, name", "1 = 1")
			if err != nil {
				return err
			}
			var list []store.Model
			for _, m := range models {
				for _, a := range args {
					if strings.EqualFold(a, m.Name) || strings.EqualFold(a, m.Maker+" "+m.Name) || a == m.ID {
						list = append(list, m)
					}
				}
			}
			switch {
			case len(args) == 0:
				list = models
			case len(list) == 0:
				return fmt.Errorf("export: %q: no such model on record", strings.Join(args, ", "))
			}
			var to io.Writer = cmd.OutOrStdout()
			if out != "" {
				f, err := os.OpenFile(out, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
				if err != nil {
					return err
				}
				defer func() { err = errors.Join(err, f.Close()) }()
				to = f
			}
			w := bufio.NewWriter(to)
			for i, m := range list {
				d, err := exchange.Gather(s.DB.WithContext(cmd.Context()), m.ID, "", s.Now().Format("2006-01-02"))
				if err != nil {
					return err
				}
				text, err := d.Write()
				if err != nil {
					return err
				}
				var small bytes.Buffer
				if err := json.Compact(&small, text); err != nil {
					return err
				}
				small.WriteByte('\n')
				if _, err := w.Write(small.Bytes()); err != nil {
					return err
				}
				fmt.Fprintf(
					cmd.ErrOrStderr(),
					"%d of %d: %s %s, %d kB\n",
					i+1,
					len(list),
					m.Maker,
					m.Name,
					small.Len()>>10,
				)
			}
			return w.Flush()
		},
	}
	c.Flags().StringVarP(&out, "out", "o", "", "a new file, instead of standard output")
	return c
}

// importCommand reads documents one after the other; each goes in whole or not at all.
func importCommand() *cobra.Command {
	var name string
	c := &cobra.Command{
		Use:   "import [FILE]",
		Short: "Put documents in as new models, from a file or standard input",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			in := cmd.InOrStdin()
			if len(args) == 1 && args[0] != "-" {
				f, err := os.Open(args[0])
				if err != nil {
					return err
				}
				defer f.Close()
				in = f
			}
			s, closeAll, err := beside(cmd.Context())
			if err != nil {
				return err
			}
			defer closeAll()
			d := json.NewDecoder(bufio.NewReader(in))
			for n := 1; ; n++ {
				var text json.RawMessage
				if err := d.Decode(&text); err == io.EOF {
					return nil
				} else if err != nil {
					return fmt.Errorf("import: document %d: %w", n, err)
				}
				taken, err := exchange.Import(cmd.Context(), s, act.Command{Key: store.NewID(), Hash: "command line",
					Actor: act.Actor{Role: act.Analyst}}, text, name)
				if err != nil {
					return fmt.Errorf("import: document %d: %w", n, err)
				}
				fmt.Fprintf(cmd.ErrOrStderr(), "%d: %d rows, %d studies\n", n, taken.Rows, len(taken.Studies))
			}
		},
	}
	c.Flags().StringVar(&name, "name", "", "instead of the model's own name")
	return c
}
