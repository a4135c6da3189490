// Package tree reads JSON documents with the place of each value kept, so that every error can
// be named by its path, and repeated fields be told.
package tree

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

// Node is one JSON value with the order of its members kept, so that repeated
// fields can be told.
type Node struct {
	Value   any // json.Number, string, bool, nil, or '{' or '[' (json.Delim)
	Members []Member
	Items   []*Node
}

// Member is a field of an object.
type Member struct {
	Name string
	Node *Node
}

// IsObject, IsArray and IsNull tell what kind of value it is.
func (n *Node) IsObject() bool { return n.Value == json.Delim('{') }
func (n *Node) IsArray() bool  { return n.Value == json.Delim('[') }
func (n *Node) IsNull() bool   { return n.Value == nil }

// Member returns the first member of that name, or nil.
func (n *Node) Member(name string) *Node {
	for _, m := range n.Members {
		if m.Name == name {
			return m.Node
		}
	}
	return nil
}

// What names the node's type, for messages.
func (n *Node) What() string {
	switch n.Value.(type) {
	case json.Number:
		return "a number"
	case string:
		return "text"
	case bool:
		return "true or false"
	case json.Delim:
		if n.IsObject() {
			return "an object"
		}
		return "a list"
	}
	return "null"
}

// maxDepth is how deep a document may nest; the formats need seven.
const maxDepth = 32

// maxValues is how many values a document may have: more than any that is of use, so that
// nonsense is soon refused.
const maxValues = 1_000_000

// parser reads one document, reporting repeated fields as it goes.
type parser struct {
	json   *json.Decoder
	report func(path, message string)
	values int
}

var (
	errTooDeep = fmt.Errorf("nested more than %d deep", maxDepth)
	errTooMany = fmt.Errorf("it has more than %d values", maxValues)
)

// Parse reads exactly one JSON value.
func Parse(data []byte, report func(path, message string)) (*Node, error) {
	p := &parser{json: json.NewDecoder(bytes.NewReader(data)), report: report}
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

func (p *parser) node(path string, depth int) (*Node, error) {
	if depth > maxDepth {
		return nil, errTooDeep
	}
	if p.values++; p.values > maxValues {
		return nil, errTooMany
	}
	token, err := p.json.Token()
	if err != nil {
		return nil, err
	}
	n := &Node{Value: token}
	delim, ok := token.(json.Delim)
	if !ok {
		return n, nil
	}
	if delim == '[' {
		for p.json.More() {
			item, err := p.node(path+"["+strconv.Itoa(len(n.Items))+"]", depth+1)
			if err != nil {
				return nil, err
			}
			n.Items = append(n.Items, item)
		}
	} else {
		seen := map[string]bool{}
		for p.json.More() {
			name, err := p.json.Token()
			if err != nil {
				return nil, err
			}
			at := Join(path, name.(string))
			value, err := p.node(at, depth+1)
			if err != nil {
				return nil, err
			}
			if seen[name.(string)] {
				p.report(at, "is given twice")
				continue
			}
			seen[name.(string)] = true
			n.Members = append(n.Members, Member{name.(string), value})
		}
	}
	_, err = p.json.Token() // the closing bracket
	return n, err
}

// Of makes a node of a JSON value that is there already: of maps, lists, texts,
// numbers and truths. Members come in the order of their names.
func Of(v any) (*Node, error) {
	switch v := v.(type) {
	case nil, string, bool, json.Number:
		return &Node{Value: v}, nil
	case float64:
		return &Node{Value: json.Number(strconv.FormatFloat(v, 'g', -1, 64))}, nil
	case int:
		return &Node{Value: json.Number(strconv.Itoa(v))}, nil
	case map[string]any:
		n := &Node{Value: json.Delim('{'), Members: make([]Member, 0, len(v))}
		for _, name := range slices.Sorted(maps.Keys(v)) {
			value, err := Of(v[name])
			if err != nil {
				return nil, fmt.Errorf("%s: %w", name, err)
			}
			n.Members = append(n.Members, Member{name, value})
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

func listOf[T any](values []T) (*Node, error) {
	n := &Node{Value: json.Delim('['), Items: make([]*Node, len(values))}
	for i, v := range values {
		item, err := Of(v)
		if err != nil {
			return nil, fmt.Errorf("[%d]: %w", i, err)
		}
		n.Items[i] = item
	}
	return n, nil
}

// Join is the path of a member.
func Join(path, name string) string {
	if path == "" {
		return name
	}
	return path + "." + name
}
