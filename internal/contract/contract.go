// Package contract makes every engine of the core a command: strict JSON in, JSON out, and the JSON Schemas of both.
// Unknown and duplicate fields are refused, and names are case-sensitive.
//
//	out, err := contract.Compute("route", in)
package contract

import (
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	strict "github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"waryowl/internal/core/fault"
)

type engine struct {
	in, out reflect.Type
	run     func([]byte) (any, error)
}

func of[I, O any](solve func(I) (O, error)) engine {
	return engine{reflect.TypeFor[I](), reflect.TypeFor[O](), func(text []byte) (any, error) {
		var in I
		if err := decode(text, &in); err != nil {
			return nil, err
		}
		return solve(in)
	}}
}

// Names lists the engines.
func Names() []string {
	var names []string
	for _, e := range Engines {
		names = append(names, e.Name)
	}
	return names
}

func find(name string) (Engine, error) {
	k := slices.IndexFunc(Engines, func(e Engine) bool { return e.Name == name })
	if k < 0 {
		return Engine{}, fault.New("engine", name, strings.Join(Names(), ", "))
	}
	return Engines[k], nil
}

// Table lists the engines in Markdown, for the documents.
func Table() string {
	var b strings.Builder
	b.WriteString("| engine | what it answers | schema |\n|---|---|---|\n")
	for _, e := range Engines {
		fmt.Fprintf(&b, "| `waryowl compute %s` | %s | [%s.json](../schemas/%s.json) |\n", e.Name, e.About, e.Name,
			e.Name)
	}
	return b.String()
}

// Compute runs an engine on its JSON input. Errors are one line that names the field, what was found and what is
// allowed.
func Compute(name string, in []byte) ([]byte, error) {
	e, err := find(name)
	if err != nil {
		return nil, err
	}
	out, err := e.run(in)
	if err != nil {
		return nil, err
	}
	return json.Marshal(out)
}

func decode(text []byte, into any) error {
	err := strict.Unmarshal(text, into, strict.RejectUnknownMembers(true))
	var semantic *strict.SemanticError
	var syntactic *jsontext.SyntacticError
	switch {
	case errors.As(err, &semantic):
		field := strings.TrimPrefix(string(semantic.JSONPointer), "/")
		if errors.Is(err, strict.ErrUnknownName) {
			return fault.New(dotted(field), "an unknown field", "the fields of the schema, in the same case")
		}
		return fault.New(dotted(field), semantic.JSONKind.String(), "a "+plain(semantic.GoType))
	case errors.As(err, &syntactic):
		if errors.Is(err, jsontext.ErrDuplicateName) {
			return fault.New(dotted(strings.TrimPrefix(string(syntactic.JSONPointer), "/")), "a second time",
				"each field once")
		}
		return fault.New("input", fmt.Sprintf("broken JSON at byte %d", syntactic.ByteOffset), "one JSON document")
	}
	return err
}

func plain(t reflect.Type) string {
	if t == nil {
		return "value of another kind"
	}
	switch t.Kind() {
	case reflect.String:
		return "text"
	case reflect.Float64:
		return "number"
	case reflect.Int:
		return "whole number"
	case reflect.Bool:
		return "true or false"
	case reflect.Slice:
		return "list"
	}
	return "object"
}

// dotted turns a JSON pointer into the path that the engines use: steps/0/id becomes steps[0].id.
func dotted(pointer string) string {
	var b strings.Builder
	for i, p := range strings.Split(pointer, "/") {
		p = strings.NewReplacer("~1", "/", "~0", "~").Replace(p)
		switch {
		case p != "" && strings.Trim(p, "0123456789") == "":
			b.WriteString("[" + p + "]")
		case i > 0:
			b.WriteString("." + p)
		default:
			b.WriteString(p)
		}
	}
	return b.String()
}

// Schema returns the JSON Schema (draft 2020-12) of an engine: an object with input and output.
func Schema(name string) ([]byte, error) {
	e, err := find(name)
	if err != nil {
		return nil, err
	}
	registry := huma.NewMapRegistry("#/$defs/", schemaName)
	doc := map[string]any{
		"$schema": "https://json-schema.org/draft/2020-12/schema",
		"title":   "Wary Owl " + name,
		"type":    "object",
		"properties": map[string]any{"input": registry.Schema(e.in, true, "Input"),
			"output": registry.Schema(e.out, true, "Output")},
	}
	doc["$defs"] = registry.Map()
	return json.MarshalIndent(doc, "", "  ")
}

// schemaName puts the package before the name: several engines have a Step or a Count.
func schemaName(t reflect.Type, hint string) string {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	name := huma.DefaultSchemaNamer(t, hint)
	if t.Name() == "" || t.PkgPath() == "" {
		return name
	}
	pkg := t.PkgPath()[strings.LastIndex(t.PkgPath(), "/")+1:]
	return strings.ToUpper(pkg[:1]) + pkg[1:] + name
}
