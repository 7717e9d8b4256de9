package exchange

import (
	"bytes"
	"compress/zlib"
	"embed"
	"encoding/binary"
	"errors"
	"io"
	"sync"
)

//go:embed fonts/*.woff
var fonts embed.FS

// font is one of the program's fonts as WOFF.
func font(name string) []byte {
	file, err := fonts.ReadFile("fonts/" + name + ".woff")
	if err != nil { // it is embedded
		panic(err)
	}
	return file
}

// sfnt is one of the program's fonts as TrueType, which a PDF wants.
func sfnt(name string) ([]byte, error) {
	f, _ := unpacked.LoadOrStore(name, sync.OnceValues(func() ([]byte, error) { return unpack(font(name)) }))
	return f.(func() ([]byte, error))()
}

var unpacked sync.Map

// unpack turns a font from WOFF 1.0 (W3C Recommendation of 13 December 2012) into the tables that it packs.
func unpack(woff []byte) ([]byte, error) {
	bad := errors.New("exchange: a font that is no WOFF 1.0")
	if len(woff) < 44 || string(woff[:4]) != "wOFF" {
		return nil, bad
	}
	be := binary.BigEndian
	n := int(be.Uint16(woff[12:]))
	if len(woff) < 44+20*n {
		return nil, bad
	}
	entry, power := 0, 1
	for power*2 <= n {
		power *= 2
		entry++
	}
	head := make([]byte, 12+16*n)
	copy(head, woff[4:8])
	be.PutUint16(head[4:], uint16(n))
	be.PutUint16(head[6:], uint16(power*16))
	be.PutUint16(head[8:], uint16(entry))
	be.PutUint16(head[10:], uint16(n*16-power*16))
	body := []byte{}
	for i := range n {
		e := woff[44+20*i:]
		offset, packed, size := int(be.Uint32(e[4:])), int(be.Uint32(e[8:])), int(be.Uint32(e[12:]))
		if offset < 0 || packed < 0 || size < packed || offset+packed > len(woff) || size > 8<<20 {
			return nil, bad
		}
		table := woff[offset : offset+packed]
		if packed < size {
			z, err := zlib.NewReader(bytes.NewReader(table))
			if err != nil {
				return nil, err
			}
			if table, err = io.ReadAll(io.LimitReader(z, int64(size)+1)); err != nil {
				return nil, err
			}
			if len(table) != size {
				return nil, bad
			}
		}
		d := head[12+16*i:]
		copy(d, e[:4])
		copy(d[4:8], e[16:20])
		be.PutUint32(d[8:], uint32(len(head)+len(body)))
		be.PutUint32(d[12:], uint32(size))
		body = append(body, table...)
		for len(body)%4 != 0 {
			body = append(body, 0)
		}
	}
	return append(head, body...), nil
}
