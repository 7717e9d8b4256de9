// Command waryowl is the whole program: it serves the application, loads the demo world, and runs the engines from the
// command line.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"waryowl/internal/app/act"
	"waryowl/internal/contract"
	"waryowl/internal/core/trade"
	"waryowl/internal/exchange"
	"waryowl/internal/server"
)

func main() {
	root := &cobra.Command{Use: "waryowl", Short: "Tears down, swaps and scores phones, and remembers how",
		SilenceUsage: true, SilenceErrors: true}
	root.AddCommand(
		serveCommand(false),
		serveCommand(true),
		migrateCommand(),
		rebuildCommand(),
		userCommand(),
		backupCommand(),
		restoreCommand(),
		exportCommand(),
		importCommand(),
		callCommand(),
		calibrationCommand(),
		instrumentsCommand(),
		computeCommand(),
		schemaCommand(),
		openapiCommand(),
		tableCommand("engines", "List the engines", contract.Names, contract.Table),
		wordsCommand(),
		tableCommand("rights", "Print who may do what", nil, act.Table),
	)
	if err := root.Execute(); err != nil {
		fmt.Fprintln(os.Stderr, "waryowl: "+strings.ReplaceAll(strings.TrimSpace(err.Error()), "\n", "; "))
		var e *exitCode
		if errors.As(err, &e) {
			os.Exit(e.code)
		}
		os.Exit(2)
	}
}

func computeCommand() *cobra.Command {
	return &cobra.Command{Use: "compute ENGINE",
		Short: "Run an engine: JSON on standard input, JSON on standard output", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			in, err := io.ReadAll(cmd.InOrStdin())
			if err != nil {
				return err
			}
			out, err := contract.Compute(args[0], in)
			if err != nil {
				return err
			}
			_, err = fmt.Fprintln(cmd.OutOrStdout(), string(out))
			return err
		}}
}

func schemaCommand() *cobra.Command {
	return &cobra.Command{Use: "schema ENGINE",
		Short: "Print the JSON Schema of an engine, of the document, or the tables",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			of := contract.Schema
			switch args[0] {
			case "document":
				of = func(string) ([]byte, error) { return exchange.Schema() }
			case "tables":
				of = func(string) ([]byte, error) { return exchange.TableSchemas() }
			}
			out, err := of(args[0])
			if err != nil {
				return err
			}
			_, err = fmt.Fprintln(cmd.OutOrStdout(), string(out))
			return err
		}}
}

func openapiCommand() *cobra.Command {
	return &cobra.Command{Use: "openapi", Short: "Print the OpenAPI document of the server", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			doc, err := server.OpenAPI()
			if err != nil {
				return err
			}
			var pretty bytes.Buffer
			if err := indent(&pretty, doc); err != nil {
				return err
			}
			_, err = fmt.Fprintln(cmd.OutOrStdout(), pretty.String())
			return err
		}}
}

// tableCommand prints names one by one, or a table in Markdown for the documents.
func tableCommand(use, short string, names func() []string, table func() string) *cobra.Command {
	markdown := names == nil
	c := &cobra.Command{Use: use, Short: short, Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
		text := strings.TrimSpace(table())
		if !markdown {
			text = strings.Join(names(), "\n")
		}
		_, err := fmt.Fprintln(cmd.OutOrStdout(), text)
		return err
	}}
	if names != nil {
		c.Flags().BoolVar(&markdown, "markdown", false, "as a table in Markdown")
	}
	return c
}

// wordsCommand prints what codes are called on pages, which the front end is built with.
func wordsCommand() *cobra.Command {
	return &cobra.Command{Use: "words", Short: "Print what codes are called on pages, as JSON", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			e := json.NewEncoder(cmd.OutOrStdout())
			e.SetIndent("", "  ")
			return e.Encode(struct {
				Words       map[string]map[string]string `json:"words"`
				Imperatives []string                     `json:"imperatives"`
			}{trade.Words, trade.Imperatives})
		}}
}
