package lang_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"eventether/core/lang"
)

func ExampleText() {
	lang.Use(lang.Language{"%s of %s carries data": "%s von %s führt Daten"})
	defer lang.Use(nil)
	fmt.Println(lang.Text("%s of %s carries data", "links", "Laptop"))
	fmt.Println(lang.Text("nothing stands for this"))
	// Output:
	// links von Laptop führt Daten
	// nothing stands for this
}

// A name with %s in it is a name, and a text with too few places for what it is given ends where it ends.
func TestText(t *testing.T) {
	require.Equal(t, "100%s off, and on", lang.Text("%s off, and %s", "100%s", "on"))
	require.Equal(t, "a ", lang.Text("a %s", "", "b"))
	require.Equal(t, "%s stays", lang.Text("%s stays"))
}

// A file that would lose a name or a figure is refused, with the text.
func TestRead(t *testing.T) {
	l, err := lang.Read([]byte(`{"Holds.": "Hält.", "left empty": ""}`))
	require.NoError(t, err)
	require.Equal(t, lang.Language{"Holds.": "Hält."}, l)
	for bad, says := range map[string]string{
		`{"%s of %s": "%s"}`: "has 1 places for names and figures (%s), and needs 2",
		`["Holds."]`:         "docs/texts.json",
		``:                   "docs/texts.json",
	} {
		_, err := lang.Read([]byte(bad))
		require.ErrorContains(t, err, says, bad)
	}
}
