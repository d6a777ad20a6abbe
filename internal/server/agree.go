package server

import (
	"context"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/gear"
	"eventether/core/picture"
	"eventether/core/view"
)

func typeOf[T any]() reflect.Type { return reflect.TypeFor[T]() }

// modeNames are pictures as people say them, without the rates that go by the same name.
func modeNames(modes []picture.Mode) []string {
	out := []string{}
	seen := map[string]bool{}
	for _, m := range modes {
		name := m.Name()
		if m.Chroma == picture.YUV420 {
			name += " at 4:2:0"
		}
		if !seen[name] {
			seen[name] = true
			out = append(out, name)
		}
	}
	return out
}

func deliveryNames(list []gear.Delivery) []string {
	out := []string{}
	for i := range list {
		out = append(out, string(list[i].Format)+" "+picture.SizeName(list[i].Width,
			list[i].Height)+" to "+list[i].MaxRate.Name())
	}
	return out
}

type aboutIn struct {
	Body struct {
		Rig Doc    `json:"rig"`
		Of  string `json:"of" doc:"Item or lead id"`
	}
}

func (a *api) agree(_ context.Context, in *aboutIn) (*struct{ Body view.Agreement }, error) {
	v, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	out, err := view.Agree(v.Rig, in.Body.Of)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return &struct{ Body view.Agreement }{*out}, nil
}

func (a *api) ways(_ context.Context, in *aboutIn) (*struct{ Body []view.Way }, error) {
	v, err := a.verdicts.read(in.Body.Rig.raw)
	if err != nil {
		return nil, err
	}
	out, err := view.Ways(v.Given, in.Body.Of)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return &struct{ Body []view.Way }{out}, nil
}
