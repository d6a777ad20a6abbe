package server

import (
	"context"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"eventether/core/advise"
	"eventether/core/costs"
	"eventether/core/gear"
	"eventether/core/rig"
	"eventether/internal/rigfile"
)

// Costing is what the Costs screen shows of a rig.
type Costing struct {
	*costs.Costs
	Here  costs.Side  `json:"here"`
	There *costs.Side `json:"there,omitempty" doc:"The rig it is compared with"`
}

func (a *api) registerCosts(h huma.API, op func(method, path, id, summary string) huma.Operation) {
	huma.Register(h, op("GET", "/api/rigs/{id}/costs", "costsOf",
		"What a rig costs, what a cure costs, and another rig beside it"), a.costs)
	huma.Register(h, op("GET", "/api/rigs/{id}/habits", "habitsOf",
		"Where habits differ: what each school says for itself, judged in this rig"), a.habits)
	huma.Register(h, op("GET", "/api/rigs/{id}/shopping", "shoppingList", "The shopping list of a rig as CSV"),
		a.shopping)
}

// costed is a rig with its costs, and summed up for a comparison.
type costed struct {
	costs *costs.Costs
	side  costs.Side
}

func (a *api) costOf(ctx context.Context, id uuid.UUID) (*costed, error) {
	v, err := a.judged(ctx, id)
	if err != nil {
		return nil, err
	}
	prices, err := a.prices(ctx)
	if err != nil {
		return nil, err
	}
	var out costed
	err = a.heavy.short(ctx, func(ctx context.Context) {
		found := advise.On(ctx, v.Verdict, soon)
		out = costed{costs.Of(v.Verdict, found, prices), costs.SideOf(v.Verdict, found, prices)}
	})
	return &out, failed(err)
}

// prices are what things cost by the shelf: by the entry they are of, or else by their name.
func (a *api) prices(ctx context.Context) (costs.Prices, error) {
	shelf, err := a.stock(ctx)
	if err != nil {
		return nil, err
	}
	byID, byName := map[string]*gear.Money{}, map[string]*gear.Money{}
	for i := range shelf {
		byID[shelf[i].ID] = shelf[i].Price
		if shelf[i].Price != nil {
			byName[shelf[i].Gear.Name] = shelf[i].Price
		}
	}
	return func(it *rig.Item) *gear.Money {
		if it.Shelf != nil {
			return byID[it.Shelf.ID]
		}
		return byName[it.Gear.Name]
	}, nil
}

func (a *api) costs(ctx context.Context, in *struct {
	ID   uuid.UUID `path:"id"`
	With string    `query:"with" doc:"Id of a rig to compare with"`
}) (*struct{ Body Costing }, error) {
	here, err := a.costOf(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	out := Costing{Costs: here.costs, Here: here.side}
	if in.With != "" {
		id, err := uuid.Parse(in.With)
		if err != nil {
			return nil, huma.Error422UnprocessableEntity("with " + in.With + ": want the id of a rig")
		}
		there, err := a.costOf(ctx, id)
		if err != nil {
			return nil, err
		}
		out.There = &there.side
	}
	return &struct{ Body Costing }{out}, nil
}

func (a *api) shopping(ctx context.Context, in *struct {
	ID uuid.UUID `path:"id"`
}) (*huma.StreamResponse, error) {
	c, err := a.costOf(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	return download("text/csv; charset=utf-8", "shopping-list.csv", []byte(c.costs.CSV(rigfile.Harmless))), nil
}

func (a *api) habits(ctx context.Context, in *struct {
	ID uuid.UUID `path:"id"`
}) (*struct{ Body []advise.School }, error) {
	v, err := a.judged(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	var out []advise.School
	err = a.heavy.long(ctx, func(context.Context) { out = advise.Schools(v.Given) })
	return &struct{ Body []advise.School }{out}, failed(err)
}
