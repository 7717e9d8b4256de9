package closeup

import "container/heap"

// Mat is a screw sheet: cells row by row in removal order, each the index of a hole or −1 for a spacer. Fewest says that
// no arrangement needs fewer spacers.
type Mat struct {
	Columns int   `json:"columns"`
	Cells   []int `json:"cells" nullable:"false"`
	Spacers int   `json:"spacers"`
	Fewest  bool  `json:"fewest"`
}

// mostStates bounds the search for the fewest spacers.
const mostStates = 60_000

type layout struct {
	next, cell, spacers int
	window              string // the last columns+1 cells, two bytes each
	from                *layout
	put                 int
	seq                 int
}

type layouts []*layout

func (l layouts) Len() int { return len(l) }
func (l layouts) Less(i, j int) bool {
	if l[i].spacers != l[j].spacers {
		return l[i].spacers < l[j].spacers
	}
	if l[i].next != l[j].next {
		return l[i].next > l[j].next
	}
	return l[i].seq < l[j].seq
}
func (l layouts) Swap(i, j int) { l[i], l[j] = l[j], l[i] }
func (l *layouts) Push(x any)   { *l = append(*l, x.(*layout)) }
func (l *layouts) Pop() any {
	old := *l
	x := old[len(old)-1]
	*l = old[:len(old)-1]
	return x
}

// Arrange lays out n holes in their order so that no two that are apart(i, j) are among each other's eight neighbours,
// with as few spacers as possible: a uniform-cost search over the last columns+1 cells, which are all that the next
// cell touches.
func Arrange(n, columns int, apart func(i, j int) bool) Mat {
	open := &layouts{{}}
	seen := map[string]bool{}
	seq := 0
	var best *layout
	for open.Len() > 0 && best == nil {
		l := heap.Pop(open).(*layout)
		if l.next == n {
			best = l
			break
		}
		key := string([]byte{byte(l.next >> 8), byte(l.next), byte(l.cell % columns)}) + l.window
		if seen[key] {
			continue
		}
		if seen[key] = true; len(seen) > mostStates {
			return greedy(n, columns, apart)
		}
		for _, put := range []int{l.next, -1} {
			if put >= 0 && touches(l, put, columns, apart) {
				continue
			}
			if put < 0 && l.put < 0 && l.spacers > 2*n+columns*2 {
				continue
			}
			seq++
			c := &layout{next: l.next, cell: l.cell + 1, spacers: l.spacers, window: l.window +
				string([]byte{byte((put + 1) >> 8), byte(put + 1)}), from: l, put: put, seq: seq}
			if put >= 0 {
				c.next++
			} else {
				c.spacers++
			}
			if len(c.window) > 2*(columns+1) {
				c.window = c.window[2:]
			}
			heap.Push(open, c)
		}
	}
	if best == nil {
		return greedy(n, columns, apart)
	}
	m := Mat{Columns: columns, Cells: make([]int, best.cell), Spacers: best.spacers, Fewest: true}
	for l := best; l.from != nil; l = l.from {
		m.Cells[l.cell-1] = l.put
	}
	return m
}

// touches says whether a hole in the next cell would lie beside one that it must be apart from: left, and the three
// above.
func touches(l *layout, put, columns int, apart func(i, j int) bool) bool {
	column, cells := l.cell%columns, len(l.window)/2
	for _, d := range [][2]int{{1, -1}, {columns + 1, -1}, {columns, 0}, {columns - 1, 1}} {
		if c := column + d[1]; c < 0 || c >= columns || d[0] > cells || columns == 1 && d[1] != 0 {
			continue
		}
		k := 2 * (cells - d[0])
		if other := int(l.window[k])<<8 + int(l.window[k+1]) - 1; other >= 0 && apart(other, put) {
			return true
		}
	}
	return false
}

func greedy(n, columns int, apart func(i, j int) bool) Mat {
	l, m := &layout{}, Mat{Columns: columns, Cells: []int{}}
	for l.next < n {
		put := l.next
		if touches(l, put, columns, apart) {
			put = -1
			m.Spacers++
		} else {
			l.next++
		}
		m.Cells = append(m.Cells, put)
		l.window += string([]byte{byte((put + 1) >> 8), byte(put + 1)})
		if len(l.window) > 2*(columns+1) {
			l.window = l.window[2:]
		}
		l.cell++
	}
	return m
}
