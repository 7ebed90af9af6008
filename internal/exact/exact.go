// Package exact writes JSON that keeps every byte of a text, and that is safe to show.
//
// A name on a disk may hold bytes that are no valid UTF-8, and JSON can't: encoding/json puts U+FFFD in their place, so
// the name is lost. Here such a byte b is written as the character U+EF00+b, of an area that Unicode leaves to private
// use. A text that holds one of the characters U+EF80 to U+EFFF itself has each of its three bytes written so, which
// makes the form exact in both directions.
//
// Characters that a terminal obeys or that are not seen (control characters, marks of direction, characters without a
// width) are written as \u escapes, which is the same text to every reader of JSON.
package exact

import (
	"bytes"
	"encoding"
	"encoding/json"
	"fmt"
	"reflect"
	"unicode"
	"unicode/utf16"
	"unicode/utf8"
)

const (
	base  = 0xEF00
	first = base + 0x80
	last  = base + 0xFF
)

// Text is the form of a text in which every byte is kept.
func Text(raw string) string {
	if !needed(raw) {
		return raw
	}
	var out []byte
	for i := 0; i < len(raw); {
		r, size := utf8.DecodeRuneInString(raw[i:])
		if r == utf8.RuneError && size == 1 || r >= first && r <= last {
			for _, b := range []byte(raw[i : i+size]) {
				out = utf8.AppendRune(out, base+rune(b))
			}
		} else {
			out = append(out, raw[i:i+size]...)
		}
		i += size
	}
	return string(out)
}

// needed says whether a text has another form. Nearly none has.
func needed(raw string) bool {
	for i := range len(raw) {
		if raw[i] >= utf8.RuneSelf {
			return !utf8.ValidString(raw) || holdsReserved(raw)
		}
	}
	return false
}

func holdsReserved(text string) bool {
	for _, r := range text {
		if r >= first && r <= last {
			return true
		}
	}
	return false
}

// Raw gives the bytes that Text was given.
func Raw(text string) string {
	if !holdsReserved(text) {
		return text
	}
	var out []byte
	for _, r := range text {
		if r >= first && r <= last {
			out = append(out, byte(r-base))
		} else {
			out = utf8.AppendRune(out, r)
		}
	}
	return string(out)
}

// Marshal is json.MarshalIndent with exact texts, without the escapes of HTML, and with a line end.
func Marshal(v any, indent string) ([]byte, error) {
	value := reflect.ValueOf(v)
	if value.IsValid() && holds(value, needed) {
		v = mapped(value, Text).Interface()
	}
	var out bytes.Buffer
	e := json.NewEncoder(&out)
	e.SetEscapeHTML(false)
	e.SetIndent("", indent)
	if err := e.Encode(v); err != nil {
		return nil, err
	}
	return escape(out.Bytes()), nil
}

// Unmarshal reads what Marshal wrote. Keys that v has no place for, and anything behind the value, are errors.
func Unmarshal(text []byte, v any) error {
	d := json.NewDecoder(bytes.NewReader(text))
	d.DisallowUnknownFields()
	if err := d.Decode(v); err != nil {
		return err
	}
	if d.More() {
		return fmt.Errorf("something follows the document, at byte %d", d.InputOffset())
	}
	value := reflect.ValueOf(v)
	if holds(value, holdsReserved) {
		value.Elem().Set(mapped(value.Elem(), Raw))
	}
	return nil
}

// escape writes what is not to be shown as \u escapes. All of it stands in strings: nothing else of JSON is beyond
// ASCII.
func escape(text []byte) []byte {
	clean := true
	for _, b := range text {
		if b >= 0x7f {
			clean = false
			break
		}
	}
	if clean {
		return text
	}
	out := make([]byte, 0, len(text)+64)
	for i := 0; i < len(text); {
		r, size := utf8.DecodeRune(text[i:])
		if r == 0x7f || r >= 0x80 && (unicode.IsControl(r) || unicode.Is(unicode.Cf, r)) {
			for _, unit := range utf16.Encode([]rune{r}) {
				out = fmt.Appendf(out, `\u%04x`, unit)
			}
		} else {
			out = append(out, text[i:i+size]...)
		}
		i += size
	}
	return out
}

// opaque says whether a type writes itself.
func opaque(t reflect.Type) bool {
	for _, i := range []reflect.Type{reflect.TypeFor[json.Marshaler](), reflect.TypeFor[encoding.TextMarshaler]()} {
		if t.Implements(i) || reflect.PointerTo(t).Implements(i) {
			return true
		}
	}
	return false
}

// holds says whether one of the texts in a value is as asked.
func holds(v reflect.Value, asked func(string) bool) bool {
	switch v.Kind() {
	case reflect.String:
		return asked(v.String())
	case reflect.Pointer, reflect.Interface:
		return !v.IsNil() && holds(v.Elem(), asked)
	case reflect.Slice, reflect.Array:
		if !mayHoldText(v.Type().Elem().Kind()) {
			return false
		}
		for i := range v.Len() {
			if holds(v.Index(i), asked) {
				return true
			}
		}
	case reflect.Map:
		for entries := v.MapRange(); entries.Next(); {
			if holds(entries.Key(), asked) || holds(entries.Value(), asked) {
				return true
			}
		}
	case reflect.Struct:
		if opaque(v.Type()) {
			return false
		}
		for i := range v.NumField() {
			if v.Type().Field(i).IsExported() && holds(v.Field(i), asked) {
				return true
			}
		}
	}
	return false
}

func mayHoldText(k reflect.Kind) bool {
	switch k {
	case reflect.String, reflect.Pointer, reflect.Interface, reflect.Slice, reflect.Array, reflect.Map, reflect.Struct:
		return true
	}
	return false
}

// mapped is a copy of a value with every text in it replaced.
func mapped(v reflect.Value, by func(string) string) reflect.Value {
	out := reflect.New(v.Type()).Elem()
	out.Set(v)
	switch v.Kind() {
	case reflect.String:
		out.SetString(by(v.String()))
	case reflect.Pointer:
		if !v.IsNil() {
			out.Set(reflect.New(v.Type().Elem()))
			out.Elem().Set(mapped(v.Elem(), by))
		}
	case reflect.Interface:
		if !v.IsNil() {
			out.Set(mapped(v.Elem(), by))
		}
	case reflect.Slice:
		if !v.IsNil() && mayHoldText(v.Type().Elem().Kind()) {
			out.Set(reflect.MakeSlice(v.Type(), v.Len(), v.Len()))
			for i := range v.Len() {
				out.Index(i).Set(mapped(v.Index(i), by))
			}
		}
	case reflect.Array:
		for i := range v.Len() {
			out.Index(i).Set(mapped(v.Index(i), by))
		}
	case reflect.Map:
		if !v.IsNil() {
			out.Set(reflect.MakeMapWithSize(v.Type(), v.Len()))
			for entries := v.MapRange(); entries.Next(); {
				out.SetMapIndex(mapped(entries.Key(), by), mapped(entries.Value(), by))
			}
		}
	case reflect.Struct:
		if opaque(v.Type()) {
			break
		}
		for i := range v.NumField() {
			if v.Type().Field(i).IsExported() {
				out.Field(i).Set(mapped(v.Field(i), by))
			}
		}
	}
	return out
}
