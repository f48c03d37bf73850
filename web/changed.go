package web

import (
	"container/list"
	"reflect"
	"strings"
	"sync"
)

// sent are the latest states that desks have been sent: of a large chart an answer is what has changed since.
type sent struct {
	mu sync.Mutex
	by map[sentKey]*list.Element
	in list.List // of sentState, the latest first
}

type sentKey struct {
	piece, rev int64
	chart      string
}

type sentState struct {
	key   sentKey
	state *chartState
}

// mostSent is how many are kept: one for each of so many desks, and what was under way.
const mostSent = 24

// keep keeps a state.
func (k *sent) keep(st *chartState) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.by == nil {
		k.by = map[sentKey]*list.Element{}
	}
	key := sentKey{st.Piece, st.Rev, st.Chart}
	if e := k.by[key]; e != nil {
		k.in.MoveToFront(e)
		e.Value = sentState{key, st}
		return
	}
	k.by[key] = k.in.PushFront(sentState{key, st})
	if k.in.Len() > mostSent {
		last := k.in.Remove(k.in.Back()).(sentState)
		delete(k.by, last.key)
	}
}

// since is what differs in a state from the one of the same chart that a desk has, by its revision: the members that
// do, and of a list as long as before or of a map only what does, under "~". Nil where that one is not known any more.
func (k *sent) since(st *chartState, rev int64) map[string]any {
	k.mu.Lock()
	e := k.by[sentKey{st.Piece, rev, st.Chart}]
	k.mu.Unlock()
	if e == nil {
		return nil
	}
	was, is := reflect.ValueOf(e.Value.(sentState).state).Elem(), reflect.ValueOf(st).Elem()
	out := map[string]any{"since": rev}
	for i := range is.NumField() {
		a, b := was.Field(i), is.Field(i)
		if reflect.DeepEqual(a.Interface(), b.Interface()) {
			continue
		}
		name, _, _ := strings.Cut(is.Type().Field(i).Tag.Get("json"), ",")
		if some := parts(a, b); some != nil {
			out[name] = map[string]any{"~": some}
		} else {
			out[name] = b.Interface()
		}
	}
	return out
}

// parts are the members of a list or map in which it differs from another with the same ones; nil where they are not
// the same, or most differ.
func parts(was, is reflect.Value) any {
	switch {
	case is.Kind() == reflect.Slice && was.Len() == is.Len() && is.Len() > 0:
		some := map[int]any{}
		for i := range is.Len() {
			if b := is.Index(i).Interface(); !reflect.DeepEqual(was.Index(i).Interface(), b) {
				some[i] = b
			}
		}
		if 2*len(some) <= is.Len() {
			return some
		}
	case is.Kind() == reflect.Map && is.Type().Key().Kind() == reflect.Int && was.Len() == is.Len():
		some := map[int]any{}
		for _, key := range is.MapKeys() {
			a, b := was.MapIndex(key), is.MapIndex(key).Interface()
			if !a.IsValid() {
				return nil
			}
			if !reflect.DeepEqual(a.Interface(), b) {
				some[int(key.Int())] = b
			}
		}
		if 2*len(some) <= is.Len() {
			return some
		}
	}
	return nil
}
