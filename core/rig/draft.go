package rig

import "slices"

// Draft makes one changed rig after another of the same one, each in the memory of the last: trying a thousand changes
// copies the long lists of a rig once.
type Draft struct {
	of    *Rig
	rig   Rig
	items []Item
	leads []Lead
}

// NewDraft readies changes of a rig, which must not change as long as the draft is used.
func NewDraft(of *Rig) *Draft { return &Draft{of: of} }

// Apply is as the function: a rig with the edits made in order, good until the next Undo. Edits that write into
// anything but the items and leads they name, or that make a list longer or shorter, are no edits for a draft.
func (d *Draft) Apply(edits []Edit) (*Rig, error) {
	d.rig = *d.of
	written := writes(edits)
	items, leads := written&inItems != 0, written&inLeads != 0
	if items && d.items == nil {
		d.items = slices.Clone(d.of.Items)
	}
	if leads && d.leads == nil {
		d.leads = slices.Clone(d.of.Leads)
	}
	if items {
		d.rig.Items = d.items
	}
	if leads {
		d.rig.Leads = d.leads
	}
	if err := d.rig.applyAll(edits); err != nil {
		return nil, err
	}
	return &d.rig, nil
}

// Undo puts back the items and leads at these places.
func (d *Draft) Undo(items, leads []int) {
	for _, i := range items {
		if d.items != nil {
			d.items[i] = d.of.Items[i]
		}
	}
	for _, i := range leads {
		if d.leads != nil {
			d.leads[i] = d.of.Leads[i]
		}
	}
}
