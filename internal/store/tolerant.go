package store

import (
	"context"
	"log/slog"
	"reflect"

	"gorm.io/gorm/schema"
)

// tolerant reads nested facts: a stored value that does not fit its column reads as nothing and is told, so that it never
// keeps anybody from the row. What is written is checked before.
type tolerant struct{ schema.JSONSerializer }

func init() { schema.RegisterSerializer("json", tolerant{}) }

// Scan is that of the interface.
func (t tolerant) Scan(ctx context.Context, field *schema.Field, dst reflect.Value, stored any) error {
	if err := t.JSONSerializer.Scan(ctx, field, dst, stored); err != nil {
		slog.WarnContext(ctx, "a stored value cannot be read", "table", field.Schema.Table, "column", field.DBName,
			"err", err)
		field.ReflectValueOf(ctx, dst).SetZero()
	}
	return nil
}
