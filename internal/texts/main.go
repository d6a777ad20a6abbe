// Command texts lists every text of the core that may reach a person, as the JSON file a translation starts from: each
// English text, and in its place the one of the other language. `make generate` keeps docs/texts.json by it.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
)

// rooms are the packages with wording in them.
var rooms = []string{"fact", "limit", "look", "say", "gear", "rig", "plans", "engine", "rules", "advise", "place", "view"}

// code is what is no wording: ids, paths, tags, formats of numbers.
var code = regexp.MustCompile(`^[a-z0-9]+([A-Z][A-Za-z0-9]*)+$|^[^ ]*[/_:=$*\\][^ ]*$|^\.|^%[^ ]*$|^[-+×÷ %s·]*$|^[A-Z]{3,}$`)

func main() {
	texts, err := gather(".")
	if err == nil {
		_, err = os.Stdout.Write(texts)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "texts:", err)
		os.Exit(1)
	}
}

// gather is the file of texts of the sources under a folder.
func gather(root string) ([]byte, error) {
	texts := map[string]string{}
	for _, room := range rooms {
		files, err := filepath.Glob(filepath.Join(root, "core", room, "*.go"))
		if err == nil && len(files) == 0 {
			err = fmt.Errorf("no sources in core/%s: run this where go.mod is", room)
		}
		if err != nil {
			return nil, err
		}
		for _, name := range files {
			if strings.HasSuffix(name, "_test.go") {
				continue
			}
			f, err := parser.ParseFile(token.NewFileSet(), name, nil, 0)
			if err != nil {
				return nil, err
			}
			ast.Inspect(f, func(n ast.Node) bool { return collect(n, texts) })
		}
	}
	var out bytes.Buffer
	enc := json.NewEncoder(&out)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	err := enc.Encode(texts)
	return out.Bytes(), err
}

// collect takes the texts of a node; it reports whether to look further down.
func collect(n ast.Node, texts map[string]string) bool {
	switch x := n.(type) {
	case *ast.ImportSpec, *ast.Field: // paths and tags
		return false
	case *ast.CallExpr:
		switch fn := x.Fun.(type) {
		case *ast.Ident:
			return fn.Name != "panic" && fn.Name != "key" && fn.Name != "part"
		case *ast.SelectorExpr:
			return fn.Sel.Name != "Errorf" && fn.Sel.Name != "MustCompile" && fn.Sel.Name != "HasPrefix" &&
				fn.Sel.Name != "Contains"
		}
	case *ast.BasicLit:
		if x.Kind != token.STRING {
			return true
		}
		s, err := strconv.Unquote(x.Value)
		letters := strings.IndexFunc(s, func(r rune) bool { return r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' }) >= 0
		if err == nil && letters && !code.MatchString(strings.TrimSpace(s)) {
			texts[s] = s
		}
	}
	return true
}
