//go:build js && wasm

// Command benchline is the bench line as WebAssembly: the same parser and the same stops as in the server, so that the
// line reads and warns without a network. It puts one object, waryowlBench, into the page.
package main

import (
	"encoding/json"
	"syscall/js"

	"waryowl/internal/core/benchline"
	"waryowl/internal/core/instrument"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trace"
)

func main() {
	js.Global().Set("waryowlBench", map[string]any{
		// read(context, pending, line): the phone and the waiting lines as JSON; the answer as JSON.
		"read": js.FuncOf(func(_ js.Value, args []js.Value) any {
			c, pending := take(args)
			return give(benchline.Read(c, pending, args[2].String()))
		}),
		// stops(context, pending, step, back): the stops of a step that was chosen or described.
		"stops": js.FuncOf(func(_ js.Value, args []js.Value) any {
			c, pending := take(args)
			var s plan.Step
			json.Unmarshal([]byte(args[2].String()), &s)
			return give(benchline.Stops(c, pending, s, args[3].Bool()))
		}),
		// next(context, pending): ids of the steps that can come next.
		"next": js.FuncOf(func(_ js.Value, args []js.Value) any {
			c, pending := take(args)
			return give(benchline.Next(c, pending))
		}),
		// reading(line, unit): a line of an instrument, and why it does not go into a measure of this unit.
		"reading": js.FuncOf(func(_ js.Value, args []js.Value) any {
			r, err := instrument.Parse(args[0].String())
			if err != nil {
				return give(map[string]string{"error": err.Error()})
			}
			return give(map[string]any{"reading": r, "refused": r.Fits(args[1].String())})
		}),
		// trace(corners, width, height, a, b): the box in mm of a rectangle that was drawn on a picture, or {error}.
		"trace": js.FuncOf(func(_ js.Value, args []js.Value) any {
			var corners [4]trace.Point
			var a, b trace.Point
			json.Unmarshal([]byte(args[0].String()), &corners)
			json.Unmarshal([]byte(args[3].String()), &a)
			json.Unmarshal([]byte(args[4].String()), &b)
			view, err := trace.New(corners, args[1].Float(), args[2].Float())
			if err != nil {
				return give(map[string]string{"error": err.Error()})
			}
			return give(view.Trace(a, b))
		}),
	})
	select {}
}

func take(args []js.Value) (c benchline.Context, pending []string) {
	json.Unmarshal([]byte(args[0].String()), &c)
	json.Unmarshal([]byte(args[1].String()), &pending)
	return c, pending
}

func give(v any) string {
	text, _ := json.Marshal(v)
	return string(text)
}
