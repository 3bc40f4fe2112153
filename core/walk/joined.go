package walk

// One walk around a carrier and its implement.

import "vespers/core/machine"

// Joined plans the walks of a carrier and of the implement it carries: one loop
// each, passing from one to the other where they meet, in the order that costs
// less. The way ends in the carrier's operator place.
func Joined(carrier, implement *machine.Sheet, c, i Options) (carrierRoute, implementRoute []Stop, implementFirst bool) {
	hitch, mount := carrier.Hitch, implement.Carrier.At
	// Carrier first: round it to the hitch, round the implement and back to
	// where they meet, then to the seat.
	c1, i1 := c, i
	c1.End, i1.Start, i1.End = hitch, mount, mount
	carrierFirst := Cold(carrier, c1).Seconds + Cold(implement, i1).Seconds + Between(carrier, hitch, carrier.OperatorPlace)/Pace
	// Implement first: round it to where they meet, then round the carrier.
	c2, i2 := c, i
	i2.End, c2.Start = mount, hitch
	if implementFirst = Cold(implement, i2).Seconds+Cold(carrier, c2).Seconds < carrierFirst; implementFirst {
		return Route(carrier, c2), Route(implement, i2), true
	}
	return Route(carrier, c1), Route(implement, i1), false
}
