package rigtext

import (
	"encoding/json"
	"slices"
	"strings"

	"eventether/core/fact"
	"eventether/core/rig"
)

// facts says of what the line above is about everything that stands below it.
func (r *reader) facts(lines []statement) {
	n := 0
	for n < len(lines) && lines[n].key != nil && lines[n].below {
		n++
	}
	lines = lines[:n]
	switch {
	case r.lead != "":
		was := *r.Rig().Lead(r.lead)
		fresh := rig.Lead{}
		if r.stated(lines, treeOf(was), &fresh) {
			r.try(&lines[0], rig.Edit{Do: "unplug", Lead: was.ID}, rig.Edit{Do: "lay", NewLead: &fresh})
			r.lead = fresh.ID
		}
	case r.voice >= 0:
		sound := *r.Rig().Sound
		sound.Paths = slices.Clone(sound.Paths)
		fresh := rig.SoundPath{}
		if r.stated(lines, treeOf(sound.Paths[r.voice]), &fresh) {
			sound.Paths[r.voice] = fresh
			r.try(&lines[0], rig.Edit{Do: "sound", Sound: &sound})
		}
	case r.item != "" && slices.Contains(r.fresh, r.item):
		it := *r.Rig().Item(r.item)
		fresh := rig.Item{}
		if r.stated(lines, treeOf(it), &fresh) {
			if fresh.ID != it.ID && r.Rig().Item(fresh.ID) != nil {
				r.bad(lines[0].at, nil, "%s is the id of another thing", fresh.ID)
				return
			}
			r.replaceItem(it.ID, fresh)
		}
	case r.item != "":
		for i := range lines {
			r.state(&lines[i])
		}
	default:
		r.now = &lines[0]
		r.bad(lines[0].at, nil, "there is no thing or lead above it that this could be said of")
	}
}

func (r *reader) try(s *statement, edits ...rig.Edit) {
	if err := r.Edit(edits...); err != nil {
		r.now = s
		r.bad(s.at, nil, "%s", plainError(err))
	}
}

// stated puts facts into a document and reads it; false where one of them cannot be said of it, which is then told.
func (r *reader) stated(lines []statement, tree map[string]any, v any) bool {
	with := func(but int) error {
		t := cloneTree(tree).(map[string]any)
		for i := range lines {
			if i == but {
				continue
			}
			if err := put(t, lines[i].key.path, lines[i].key.value); err != nil {
				return err
			}
		}
		return into(t, v)
	}
	err := with(-1)
	if err == nil {
		return true
	}
	at := len(lines) - 1
	for i := range lines {
		if with(i) == nil {
			at = i
			break
		}
	}
	r.now = &lines[at]
	r.bad(lines[at].at, nil, "%s", plainError(err))
	return false
}

// state says of an item that was there what can be stated by itself.
func (r *reader) state(s *statement) {
	path := "items/" + r.item + "/" + strings.ReplaceAll(s.key.path, ".", "/")
	edit := rig.Edit{Do: "word", Path: path, Word: s.key.value}
	var f fact.Fact
	if err := json.Unmarshal([]byte(valueJSON(valueOf(s.key.value))), &f); err == nil {
		edit = rig.Edit{Do: "fact", Path: path, Fact: &f}
	}
	if err := r.Edit(edit); err != nil {
		r.now = s
		r.bad(s.at, nil, "%s is nothing that can be said of %s here", s.key.path, r.Rig().Item(r.item).Label)
	}
}

// replaceItem puts another document in the place of an item that came with this text, leads and all that names it as
// they were.
func (r *reader) replaceItem(id string, fresh rig.Item) {
	rg := r.Rig()
	for i := range rg.Items {
		if rg.Items[i].ID == id {
			rg.Items[i] = fresh
		}
	}
	for i := range r.fresh {
		if r.fresh[i] == id {
			r.fresh[i] = fresh.ID
		}
	}
	edits := r.Done().Edits
	for i := range edits {
		if n := edits[i].NewItem; n != nil && n.ID == id {
			c := fresh
			edits[i].NewItem = &c
		}
	}
	r.item = fresh.ID
}

// topFacts says what is said of the rig as a whole.
func (r *reader) topFacts() {
	var all []statement
	for _, s := range r.top {
		r.now = &s
		head, rest, _ := strings.Cut(s.key.path, ".")
		switch {
		case head == "rig" && rest == "":
			r.try(&s, rig.Edit{Do: "name", Name: plainText(s.key.value)})
			continue
		case head == "rig":
			r.bad(s.at, nil, "the name of the rig has no parts")
			continue
		case r.said && head != "show" && head != "sound":
			r.bad(s.at, nil, "%s is said of a whole rig, not beside others: begin a new rig with it", head)
			continue
		case head == "show":
			s.key = &pair{s.key.path, r.byLabel(rest, s.key.value)}
		}
		all = append(all, s)
	}
	if len(all) == 0 {
		return
	}
	fresh := rig.Rig{}
	if !r.stated(all, treeOf(*r.Rig()), &fresh) {
		return
	}
	show, sound := fresh.Show, fresh.Sound
	r.try(&all[0], rig.Edit{Do: "show", Show: &show}, rig.Edit{Do: "sound", Sound: sound})
	if r.said { // the rest is not said beside others, and the rig is somebody's
		return
	}
	to := r.Rig()
	to.Notes, to.Ceiling, to.Uplink, to.WorkMinutes = fresh.Notes, fresh.Ceiling, fresh.Uplink, fresh.WorkMinutes
}

// plainText is a text as it was meant: without the quotes it may stand in.
func plainText(s string) string {
	if v, ok := valueOf(s).(string); ok {
		return v
	}
	return s
}

// byLabel turns the names of things in what is said of a show into their ids.
func (r *reader) byLabel(path, value string) string {
	if !slices.Contains(naming, path) {
		return value
	}
	list, _ := valueOf(value).([]any)
	renamed(list, func(label string) string {
		for i := range r.Rig().Items {
			if r.Rig().Items[i].Label == label {
				return r.Rig().Items[i].ID
			}
		}
		return label
	})
	if list == nil {
		return value
	}
	return valueText(list)
}

// naming are the lists of a show that name things of the rig.
var naming = []string{"recordings", "also", "layouts"}

// renamed calls the things otherwise that recordings, programs and arrangements name.
func renamed(list []any, name func(string) string) {
	for _, e := range list {
		m, _ := e.(map[string]any)
		for _, k := range []string{"what", "drive"} {
			if s, ok := m[k].(string); ok {
				m[k] = name(s)
			}
		}
		for _, k := range []string{"takes", "sources"} {
			ids, _ := m[k].([]any)
			for i := range ids {
				if s, ok := ids[i].(string); ok {
					ids[i] = name(s)
				}
			}
		}
	}
}
