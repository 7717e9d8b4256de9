package planfile_test

import (
	"fmt"
	"strings"

	"waryowl/internal/core/planfile"
)

// A file names parts and marks; a part that only a step speaks of is known as well.
func Example() {
	f, err := planfile.Read([]byte(`{"parts":[{"name":"lid","family":"SC"}],"steps":[
		{"mark":"s1","verb":"lift","what":"lid","frees":["lid"]},
		{"mark":"s2","verb":"lift","what":"cell","frees":["battery"],"after":[["s1"]]}]}`))
	fmt.Println(len(f.Steps), f.Names(), err)
	_, err = planfile.Read([]byte(`{"steps":[{"mark":"s1","verb":"smash","what":"lid"}]}`))
	found, _, _ := strings.Cut(err.Error(), ", allowed")
	fmt.Println(found)
	// Output:
	// 2 [battery] <nil>
	// plan.steps[0].verb: found "smash"
}
