package catalogue

// What each kit brings to a sheet, and what it demands of it.

import (
	"fmt"
	"io/fs"
	"path"
	"slices"
	"sort"
	"strings"
)

// Kit is a shared part of sheets.
type Kit struct {
	Name string
	// Brings lists what it adds, section by section, by id.
	Brings []Section
	// Demands lists what a sheet that uses it must have besides: stations or
	// places by id, settings, points and options that it names and does not bring
	// itself, and where the controls are that it brings.
	Demands []Section
}

// Section is the things of one kind.
type Section struct {
	Name string
	IDs  []string
}

// Kits lists the kits that ship with the program, by name.
func Kits() ([]Kit, error) {
	files, err := fs.Glob(embedded, "kits/*.yaml")
	if err != nil {
		return nil, err
	}
	sort.Strings(files)
	var out []Kit
	for _, file := range files {
		data, err := embedded.ReadFile(file)
		if err != nil {
			return nil, err
		}
		root, err := parse(file, data)
		if err != nil {
			return nil, err
		}
		out = append(out, kitOf(strings.TrimSuffix(path.Base(file), ".yaml"), root))
	}
	return out, nil
}

func kitOf(name string, root *node) Kit {
	k := Kit{Name: name}
	brought := map[string][]string{}
	for _, section := range root.keys {
		list := root.fields[section]
		if list.mapping && slices.Contains(byName, section) {
			brought[section] = list.keys
			k.Brings = append(k.Brings, Section{section, list.keys})
			continue
		}
		if !list.list {
			continue
		}
		var ids []string
		for i, item := range list.items {
			if named, ok := item.scalar.(string); ok {
				ids = append(ids, named)
				continue
			}
			id := item.id()
			if id == "" {
				id = fmt.Sprint(i + 1)
			}
			ids = append(ids, id)
		}
		brought[section] = ids
		k.Brings = append(k.Brings, Section{section, ids})
	}
	wants := map[string][]string{}
	want := func(section, id string) {
		if id != "" && !slices.Contains(brought[section], id) && !slices.Contains(wants[section], id) {
			wants[section] = append(wants[section], id)
		}
	}
	word := func(n *node) string {
		if n == nil {
			return ""
		}
		s, _ := n.scalar.(string)
		return s
	}
	for _, section := range []string{"checks", "settings", "places"} {
		list := root.fields[section]
		if list == nil {
			continue
		}
		for _, item := range list.items {
			want("places", word(item.fields["at"]))
			want("places", word(item.fields["station"]))
			if needs := item.fields["needs"]; needs != nil {
				for _, setting := range needs.keys {
					want("settings", setting)
				}
			}
			if after := item.fields["after"]; after != nil {
				for _, one := range after.items {
					want("checks", word(one))
				}
			}
			if condition := item.fields["if"]; condition != nil {
				for _, option := range condition.keys {
					want("options", option)
				}
			}
		}
	}
	for _, section := range []string{"procedures", "events"} {
		if list := root.fields[section]; list != nil {
			for _, run := range asList(list).items {
				if run.fields["steps"] == nil {
					continue
				}
				for _, step := range run.fields["steps"].items {
					if spot := word(step.fields["spot"]); spot != "operator_place" {
						want("places", spot)
					}
					if wait := step.fields["wait"]; wait != nil {
						want("numbers", word(wait.fields["parameter"]))
					}
				}
			}
		}
	}
	for _, id := range brought["controls"] {
		want("controls placed", id)
	}
	for _, section := range []string{"places", "settings", "checks", "options", "numbers", "controls placed"} {
		if ids := wants[section]; len(ids) > 0 {
			sort.Strings(ids)
			k.Demands = append(k.Demands, Section{section, ids})
		}
	}
	return k
}
