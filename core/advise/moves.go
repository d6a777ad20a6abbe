package advise

import (
	"eventether/core/engine"
	"eventether/core/gear"
	"eventether/core/lang"
	"eventether/core/limit"
	"eventether/core/rig"
	"eventether/core/say"
	"eventether/core/verdict"
)

// Move is one thing a person can do to a rig, as edits, with what it costs and what it would bring.
type Move struct {
	ID      string      `json:"id"`
	Kind    string      `json:"kind" enum:"plug,mode,deliver,lead,length,setting,power,send,swap,show,way"`
	Of      string      `json:"of" doc:"The item or lead it is done to"`
	Slot    string      `json:"slot" doc:"Moves with the same slot exclude each other"`
	Label   string      `json:"label" doc:"What to do, as an order"`
	Short   string      `json:"short" doc:"The same in a few words, for the verdict's sentence"`
	Edits   []rig.Edit  `json:"edits"`
	Minutes float64     `json:"minutes"`
	Cost    *gear.Money `json:"cost,omitempty" doc:"What has to be bought, estimated"`
	GivesUp string      `json:"givesUp,omitempty" doc:"What the picture or the show loses"`
	// Judged is what the move would do; set on fixes and on ghosts.
	Judged *Judged `json:"judged,omitempty"`

	say     func() (label, short string)
	touches []string // ids of the things it changes
	anew    bool     // what is proposed for open choices may be another after it
	half    bool     // leaves the rig unsound by itself: a plug into a socket another one is still in
	loss    int
}

// move is a new move of a kind, done to an item, a lead, the show or the sound. It touches that, and excludes others of
// its id, unless it is said otherwise.
func move(kind, id, of string) *Move {
	return &Move{Kind: kind, ID: id, Of: of, Slot: id, touches: []string{of}}
}

// slotted says which moves exclude each other: those of one slot.
func (m *Move) slotted(slot string) *Move { m.Slot = slot; return m }

// touching names what the move changes, where it is more than what it is done to.
func (m *Move) touching(ids ...string) *Move { m.touches = ids; return m }

// taking says how many minutes it takes.
func (m *Move) taking(minutes float64) *Move { m.Minutes = minutes; return m }

// costing says what has to be bought; nothing where it is not said.
func (m *Move) costing(price *gear.Money) *Move { m.Cost = price; return m }

// givingUp says what the picture or the show loses, in words.
func (m *Move) givingUp(what string) *Move { m.GivesUp = what; return m }

// worse says how much is lost, to compare moves that cost the same.
func (m *Move) worse(loss int) *Move { m.loss = loss; return m }

// proposing tells that what is proposed for open choices may be another after it.
func (m *Move) proposing() *Move { m.anew = true; return m }

// saying gives the words: an order, and the same in a few words.
func (m *Move) saying(say func() (label, short string)) *Move { m.say = say; return m }

// doing gives the edits.
func (m *Move) doing(edits ...rig.Edit) *Move { m.Edits = edits; return m }

// word puts a move into words.
func (m *Move) word() {
	if m.say != nil {
		m.Label, m.Short = m.say()
	}
}

// Line is the move with what it takes, in one line.
func (m *Move) Line() string {
	takes := lang.Text("%s min", say.Number(m.Minutes))
	if m.Cost != nil && m.Cost.Amount > 0 {
		takes += ", " + lang.Text("about %s", m.Cost.String())
	}
	if m.GivesUp != "" {
		takes += ", " + lang.Text("gives up %s", m.GivesUp)
	}
	return m.Label + " (" + takes + ")"
}

// Judged says what a change would do to the rig.
type Judged struct {
	State   limit.State `json:"state" enum:"slack,taut,kinked,untested,snapped" doc:"The rig afterwards"`
	Heals   []string    `json:"heals" doc:"Limits that get better, by id"`
	Strains []string    `json:"strains" doc:"Limits that get worse, by id"`
	Words   string      `json:"words" doc:"The same in words"`

	heals, strains []engine.ID
	mends          []engine.ID // of what it heals, what holds then
	lessens        []lessened
}

// lessened is a limit that stays untested after a move, with less at its worst.
type lessened struct {
	id    engine.ID
	ratio limit.Bounds // load against limit, after
}

// worthLess is what may be left, at most, of the worst a limit may come to, for a move to be worth naming.
const worthLess = 0.85

// inReach is how many times its limit it may still come to then: of what may be fifteen times too much a question is
// the answer.
const inReach = 3

// Moves lists everything that can be done to a rig in one move: a plug into a free socket (into a taken one only when
// no like socket is free), another mode, another picture from a capture device, another lead, a setting, mains power,
// a smaller sent picture, a stronger capture device. Sockets that are alike (same item, controller and speed) count
// once. The list is complete for what Advise searches through.
func Moves(r *rig.Rig) []Move {
	out := movesOn(verdict.Bare(r, rig.NewWiring(r)), nil)
	for i := range out {
		out[i].word()
	}
	return out
}

// movesOn lists the moves that touch one of the given ids, or all of them.
func movesOn(p *verdict.Verdict, ids map[string]bool) []Move { return universeOf(p).on(ids) }

func (u *universe) on(ids map[string]bool) []Move {
	r := u.Rig
	for i := range r.Leads {
		if ids == nil || ids[r.Leads[i].ID] {
			u.plugs(i)
			u.leads(i)
		}
	}
	for i := range r.Items {
		it := &r.Items[i]
		if ids != nil && !ids[it.ID] {
			continue
		}
		u.modes(it)
		u.delivers(it)
		u.settings(it)
		u.swaps(it)
	}
	if ids == nil || ids["send"] {
		u.sends()
	}
	if ids == nil || ids["send"] || ids["show"] {
		u.mends()
	}
	if ids == nil || ids["show"] {
		u.shows()
	}
	if ids == nil || ids["sound"] {
		u.hears()
	}
	return u.out
}

func universeOf(p *verdict.Verdict) *universe { return &universe{Rig: p.Rig, g: p.Wiring, p: p} }

type universe struct {
	*rig.Rig
	g   *rig.Wiring
	p   *verdict.Verdict // for what it knows of the rig; it need not have run
	out []Move
	// mine is where the moves of the item at hand begin.
	mine int
	// sound leaves out moves that leave a rig unsound by themselves.
	sound   bool
	sockets map[spotKind][]spot
	classes map[socketClass]int
}

func (u *universe) add(m *Move) { u.out = append(u.out, *m) }

func (u *universe) money(a gear.Amount) *gear.Money { return Price(u.Rig, a) }

// Anew tells whether a move is judged with what is proposed for the rig after it, rather than with the choices as they
// were.
func (m *Move) Anew() bool { return m.anew }
