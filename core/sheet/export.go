package sheet

import (
	"encoding/csv"
	"strings"

	"eventether/core/lang"
)

// Commands are the command lines of a sheet, one for each stream and recording that has one.
func (s *Sheet) Commands() string {
	var b strings.Builder
	for i := range s.Parts {
		if c := s.Parts[i].Command; c != "" {
			b.WriteString(c + "\n")
		}
	}
	return b.String()
}

// Text is the sheet as plain text, values in a column.
func (s *Sheet) Text() string {
	var b strings.Builder
	b.WriteString(s.Rig + "\n")
	for i := range s.Parts {
		p := &s.Parts[i]
		b.WriteString("\n" + p.Name + "\n")
		if p.Note != "" {
			b.WriteString("  " + p.Note + "\n")
		}
		wide := 0
		for k := range p.Lines {
			wide = max(wide, len([]rune(p.Lines[k].Name)))
		}
		for k := range p.Lines {
			l := &p.Lines[k]
			b.WriteString("  " + l.Name + strings.Repeat(" ", wide-len([]rune(l.Name))+2) + l.T() + l.was() + "\n")
		}
	}
	return b.String()
}

func (l *Entered) was() string {
	if l.Was == "" {
		return ""
	}
	return " " + lang.Text("(was %s)", l.Was)
}

// Markdown is the sheet as Markdown: a table for each part, with the reasons.
func (s *Sheet) Markdown() string {
	cell := strings.NewReplacer("|", "\\|", "\n", " ", "<", "&lt;").Replace
	var b strings.Builder
	b.WriteString("# " + cell(s.Rig) + "\n")
	for i := range s.Parts {
		p := &s.Parts[i]
		b.WriteString("\n## " + cell(p.Name) + "\n\n")
		if p.Note != "" {
			b.WriteString(cell(p.Note) + "\n\n")
		}
		b.WriteString("| " + lang.Text("Field") + " | " + lang.Text("Value") + " | " + lang.Text("Also called") +
			" | " + lang.Text("Why") + " |\n|---|---|---|---|\n")
		for k := range p.Lines {
			l := &p.Lines[k]
			b.WriteString("| " + cell(l.Name) + " | " + cell(l.T()+l.was()) + " | " + cell(strings.Join(l.Also,
				", ")) + " | " + cell(l.Why) + " |\n")
		}
		if p.Command != "" {
			b.WriteString("\n```sh\n" + p.Command + "\n```\n")
		}
	}
	return b.String()
}

// CSV is the sheet as comma-separated values, a line for each value. A cell never runs as a formula in a spreadsheet.
func (s *Sheet) CSV() string {
	var b strings.Builder
	w := csv.NewWriter(&b)
	row := func(cells ...string) {
		for i, c := range cells {
			if c != "" && strings.ContainsRune("=+-@\t\r", rune(c[0])) {
				cells[i] = "'" + c
			}
		}
		w.Write(cells) // to a strings.Builder, which takes everything
	}
	row("part", "field", "value", "unit", "how", "matters", "also", "why", "source", "changes")
	for i := range s.Parts {
		p := &s.Parts[i]
		for k := range p.Lines {
			l := &p.Lines[k]
			row(p.Name, l.Name, l.Value, l.Unit, string(l.How), string(rune('0'+l.Matters)),
				strings.Join(l.Also, "; "), l.Why, l.Source, l.Changes)
		}
	}
	w.Flush()
	return b.String()
}
