package limit

import "eventether/core/fact"

// At names a fact by the path of its field and whose it is.
func At(field, of string) Key { return Key{Field: field, Of: of} }

// Part names a fact of a part of something.
func Part(field, of, sub string) Key { return Key{Field: field, Of: of, Sub: sub} }

// Stated is a number as the rig states it, or the stand-in of one it does not.
func Stated(k Key, unit string, f *fact.Fact, standIn fact.Fact) Fact {
	if f == nil {
		f = &standIn
	}
	return Fact{Key: k, Low: f.Low, Value: f.Value, High: f.High, From: f.From, Unit: unit}
}

// Open is a choice nobody has made or looked at, with the state each of its words would mean.
func Open(k Key, options *[]Option) Fact {
	return Fact{Key: k, Word: "unknown", From: fact.Estimate, Options: options}
}

// OneOf are the options of a choice: word, state, word, state.
func OneOf(pairs ...Option) *[]Option { return &pairs }

// Would is one thing a choice may turn out to be.
func Would(word string, s State) Option { return Option{Word: word, State: s} }
