package worksheet

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
)

// node is one JSON value with the order of its members kept, so that repeated
// fields can be told.
type node struct {
	value   any // json.Number, string, bool, nil, or '{' or '[' (json.Delim)
	members []member
	items   []*node
}

type member struct {
	name string
	node *node
}

func (n *node) isObject() bool { return n.value == json.Delim('{') }
func (n *node) isArray() bool  { return n.value == json.Delim('[') }
func (n *node) isNull() bool   { return n.value == nil }

// member returns the first member of that name, or nil.
func (n *node) member(name string) *node {
	for _, m := range n.members {
		if m.name == name {
			return m.node
		}
	}
	return nil
}

// what names the node's type, for messages.
func (n *node) what() string {
	switch n.value.(type) {
	case json.Number:
		return "a number"
	case string:
		return "text"
	case bool:
		return "true or false"
	case json.Delim:
		if n.isObject() {
			return "an object"
		}
		return "a list"
	}
	return "null"
}

// maxDepth is how deep a document may nest; the format needs seven.
const maxDepth = 32

// parser reads one document, reporting repeated fields as it goes.
type parser struct {
	json   *json.Decoder
	report func(path, message string)
}

var errTooDeep = fmt.Errorf("nested more than %d deep", maxDepth)

// parseJSON reads exactly one JSON value.
func parseJSON(data []byte, report func(path, message string)) (*node, error) {
	p := parser{json.NewDecoder(bytes.NewReader(data)), report}
	p.json.UseNumber()
	n, err := p.node("", 0)
	if err != nil {
		if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
			return nil, errors.New("the document ends too early")
		}
		return nil, fmt.Errorf("not a JSON document: %w", err)
	}
	if _, err := p.json.Token(); !errors.Is(err, io.EOF) {
		return nil, errors.New("something follows the document")
	}
	return n, nil
}

func (p parser) node(path string, depth int) (*node, error) {
	if depth > maxDepth {
		return nil, errTooDeep
	}
	token, err := p.json.Token()
	if err != nil {
		return nil, err
	}
	n := &node{value: token}
	delim, ok := token.(json.Delim)
	if !ok {
		return n, nil
	}
	if delim == '[' {
		for p.json.More() {
			item, err := p.node(path+"["+strconv.Itoa(len(n.items))+"]", depth+1)
			if err != nil {
				return nil, err
			}
			n.items = append(n.items, item)
		}
	} else {
		seen := map[string]bool{}
		for p.json.More() {
			name, err := p.json.Token()
			if err != nil {
				return nil, err
			}
			at := join(path, name.(string))
			value, err := p.node(at, depth+1)
			if err != nil {
				return nil, err
			}
			if seen[name.(string)] {
				p.report(at, "is given twice")
				continue
			}
			seen[name.(string)] = true
			n.members = append(n.members, member{name.(string), value})
		}
	}
	_, err = p.json.Token() // the closing bracket
	return n, err
}

// nodeOf makes a node of a JSON value that is there already: of maps, lists, texts,
// numbers and truths. Members come in the order of their names.
func nodeOf(v any) (*node, error) {
	switch v := v.(type) {
	case nil, string, bool, json.Number:
		return &node{value: v}, nil
	case float64:
		return &node{value: json.Number(strconv.FormatFloat(v, 'g', -1, 64))}, nil
	case int:
		return &node{value: json.Number(strconv.Itoa(v))}, nil
	case map[string]any:
		n := &node{value: json.Delim('{'), members: make([]member, 0, len(v))}
		for _, name := range slices.Sorted(maps.Keys(v)) {
			value, err := nodeOf(v[name])
			if err != nil {
				return nil, fmt.Errorf("%s: %w", name, err)
			}
			n.members = append(n.members, member{name, value})
		}
		return n, nil
	case *[]any:
		return listOf(*v)
	case []any:
		return listOf(v)
	case []string:
		return listOf(v)
	case []map[string]any:
		return listOf(v)
	}
	return nil, fmt.Errorf("a %T has no JSON form here", v)
}

func listOf[T any](values []T) (*node, error) {
	n := &node{value: json.Delim('['), items: make([]*node, len(values))}
	for i, v := range values {
		item, err := nodeOf(v)
		if err != nil {
			return nil, fmt.Errorf("[%d]: %w", i, err)
		}
		n.items[i] = item
	}
	return n, nil
}

func join(path, name string) string {
	if path == "" {
		return name
	}
	return path + "." + name
}
