package page

// How the devices beside the yard are, in words.

import "vespers/outside"

// DeviceWords is one device: how it is, and what is done by hand meanwhile.
type DeviceWords struct {
	Name, Words, ByHand string
	Well                bool
	Detail              string
}

// Devices are all of them.
func (v *Visit) Devices() (out []DeviceWords) {
	for _, s := range v.Site.Outside.Status() {
		d := DeviceWords{Name: v.T("outside." + s.Device), Well: s.Trouble == outside.Well, Detail: s.Detail, ByHand: v.T("outside.by_hand." + s.Device)}
		switch since := s.Since; {
		case d.Well:
			d.Words = v.T("outside.well", "device", d.Name, "when", v.When(since, v.Now))
		case since.IsZero():
			d.Words = v.T("outside.never."+string(s.Trouble), "device", d.Name)
		default:
			d.Words = v.T("outside.trouble."+string(s.Trouble), "device", d.Name, "since", v.When(since, v.Now))
		}
		out = append(out, d)
	}
	return out
}

// Troubles are those that are not well.
func (v *Visit) Troubles() (out []DeviceWords) {
	for _, d := range v.Devices() {
		if !d.Well {
			out = append(out, d)
		}
	}
	return out
}
