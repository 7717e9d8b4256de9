package exchange

import (
	"reflect"
	"sync"

	"github.com/danielgtaylor/huma/v2"
)

// schemas are those of what comes in, made from the Go types when the first of a kind comes. The registry is a map that
// the library does not guard: it is written alone, and read by many.
var schemas = struct {
	sync.RWMutex
	registry huma.Registry
	by       map[reflect.Type]*huma.Schema
}{registry: huma.NewMapRegistry("#/components/schemas/", huma.DefaultSchemaNamer), by: map[reflect.Type]*huma.Schema{}}

// against holds a value, as JSON gives it, against the schema of a type.
func against(t reflect.Type, value any) []error {
	schemas.RLock()
	s := schemas.by[t]
	schemas.RUnlock()
	if s == nil {
		schemas.Lock()
		if s = schemas.by[t]; s == nil {
			s = schemas.registry.Schema(t, false, t.Name())
			schemas.by[t] = s
		}
		schemas.Unlock()
	}
	schemas.RLock()
	defer schemas.RUnlock()
	found := &huma.ValidateResult{}
	huma.Validate(schemas.registry, s, huma.NewPathBuffer(nil, 0), huma.ModeReadFromServer, value, found)
	return found.Errors
}
