package server

import (
	"context"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"eventether/core/gear"
	"eventether/core/judge"
	"eventether/core/picture"
	"eventether/internal/rigfile"
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
		out = append(out, string(list[i].Format)+" "+picture.SizeName(list[i].Width, list[i].Height)+" to "+list[i].MaxRate.Name())
	}
	return out
}

type aboutIn struct {
	Body struct {
		Rig Doc    `json:"rig"`
		Of  string `json:"of" doc:"Item or lead id"`
	}
}

func (a *api) agree(_ context.Context, in *aboutIn) (*struct{ Body judge.Agreement }, error) {
	r, err := rigfile.Read(in.Body.Rig.raw)
	if err != nil {
		return nil, failed(err)
	}
	out, err := judge.Agree(r, in.Body.Of)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return &struct{ Body judge.Agreement }{*out}, nil
}

func (a *api) ways(_ context.Context, in *aboutIn) (*struct{ Body []judge.Way }, error) {
	r, err := rigfile.Read(in.Body.Rig.raw)
	if err != nil {
		return nil, failed(err)
	}
	out, err := judge.Ways(r, in.Body.Of)
	if err != nil {
		return nil, huma.NewError(http.StatusUnprocessableEntity, err.Error())
	}
	return &struct{ Body []judge.Way }{out}, nil
}
