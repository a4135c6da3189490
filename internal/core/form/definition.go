package form

// Take removes a field of a definition and returns what it said.
func Take(definition map[string]any, field string) any {
	v := definition[field]
	delete(definition, field)
	return v
}

// Clone is a copy of a definition, or a part of one, of which nothing is shared.
func Clone(v any) any {
	switch v := v.(type) {
	case map[string]any:
		out := make(map[string]any, len(v))
		for name, member := range v {
			out[name] = Clone(member)
		}
		return out
	case []any:
		out := make([]any, len(v))
		for i, item := range v {
			out[i] = Clone(item)
		}
		return out
	}
	return v
}

// Items are the items of a list of a definition.
func Items(list any) []map[string]any {
	values, _ := list.([]any)
	var out []map[string]any
	for _, v := range values {
		if item, ok := v.(map[string]any); ok {
			out = append(out, item)
		}
	}
	return out
}

// NameOf is the name of an item of a list; of a reading of a join its id.
func NameOf(item map[string]any) string {
	if id, ok := item["id"].(string); ok {
		return id
	}
	name, _ := item["name"].(string)
	return name
}
