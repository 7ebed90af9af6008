package convention

import (
	"encoding/json"

	"crookedshelf/internal/finding"
)

// shape is what the value of a key looks like.
type shape uint8

const (
	oneText         shape = iota // a text, a number, true or false
	manyTexts                    // one or a list of them
	namedTexts                   // a mapping of names to texts
	namedLists                   // a mapping of names to one or many texts
	boundTexts                   // one or a list of texts, or of mappings of a text to texts by their names
	namedBoundTexts              // a mapping of names to such
	fields                       // a mapping with the keys below
	entries                      // one of these or a list
	textEntries                  // the same, where an entry may be a text alone
	namedFields                  // a mapping of names to mappings with the keys below, or to texts
	shelfMap                     // a mapping of names to shelves
	anything
)

// object is a piece of a schema.
type object = map[string]any

// Schema is the JSON Schema (draft 2020-12) of crooked.yaml, for editors. It is made from the table of keys; what it
// can't say, such as that a shelf that is named must be there, is reported by check.
func Schema() []byte {
	root := fieldsSchema(format)
	root["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	root["title"] = "crooked.yaml"
	root["description"] = "The convention of a project: its shelves, where they stand and what belongs on them."
	root["required"] = []string{"crooked"}
	root["$defs"] = object{
		"text": object{"type": []string{"string", "number", "boolean"}},
		"texts": object{"anyOf": []object{{"$ref": "#/$defs/text"},
			{"type": "array", "items": object{"$ref": "#/$defs/text"}}}},
		"shelf": object{"anyOf": []object{{"type": "string"}, {"type": "null"}, fieldsSchema(shelfKeys)}},
	}
	levels := root["properties"].(object)["levels"].(object)
	rules := object{}
	for _, r := range finding.Rules() {
		rules[r.ID] = object{"enum": []finding.Level{finding.Error, finding.Warn, finding.Off}, "description": r.Title}
	}
	levels["properties"], levels["additionalProperties"] = rules, false
	out, err := json.MarshalIndent(root, "", "  ")
	if err != nil {
		panic(err) // it is made of texts and maps of them
	}
	return append(out, '\n')
}

// fieldsSchema is a mapping with fixed keys.
func fieldsSchema(keys []key) object {
	properties := object{}
	for _, k := range keys {
		s := k.schema()
		s["description"] = k.about
		properties[k.name] = s
	}
	return object{"type": "object", "properties": properties, "additionalProperties": false}
}

func (k key) schema() object {
	text, texts := object{"$ref": "#/$defs/text"}, object{"$ref": "#/$defs/texts"}
	switch k.shape {
	case manyTexts:
		return texts
	case namedTexts:
		return object{"type": "object", "additionalProperties": text}
	case namedLists:
		return object{"type": "object", "additionalProperties": texts}
	case boundTexts:
		return boundSchema(text)
	case namedBoundTexts:
		return object{"type": "object", "additionalProperties": boundSchema(text)}
	case fields:
		return fieldsSchema(k.below)
	case entries:
		one := fieldsSchema(k.below)
		return object{"anyOf": []object{one, {"type": "array", "items": one}}}
	case textEntries:
		one := object{"anyOf": []object{text, fieldsSchema(k.below)}}
		return object{"anyOf": []object{one, {"type": "array", "items": one}}}
	case namedFields:
		return object{"type": "object", "additionalProperties": object{"anyOf": []object{texts, fieldsSchema(k.below)}}}
	case shelfMap:
		return object{"type": "object", "additionalProperties": object{"$ref": "#/$defs/shelf"}}
	case anything:
		return object{}
	}
	return text
}

// boundSchema is one or a list of texts, or of mappings of a text to texts by their names.
func boundSchema(text object) object {
	bound := object{"type": "object", "additionalProperties": object{"type": "object", "additionalProperties": text}}
	one := object{"anyOf": []object{text, bound}}
	return object{"anyOf": []object{one, {"type": "array", "items": one}}}
}
