package catalogue

import (
	"slices"
	"strings"
	"testing"

	"vespers/core/machine"
)

// content is what whoever works with a family would miss at once, and what covers it: a
// point, or control:, event:, number:, permit:, option:, protection:, use: with its id, or
// PROCEDURE/STEP.
var content = map[string][][2]string{
	"wide_area": {
		{"three decks, each stops its blades when raised", "permit:left"}, {"the middle one", "permit:centre"}, {"the right one", "permit:right"}, {"not lowered with an empty seat", "lowering"},
		{"drive tyres", "wheel_left"}, {"castor pressure of its own", "castor_tyres"}, {"sight tube, cold", "hydraulic_oil"}, {"axle dipstick, right end", "axle_oil"}, {"coolant, cold", "coolant"},
		{"alternator and fan belt", "fan_belt"}, {"fuel bowl", "fuel_water"}, {"red indicator", "air_filter"}, {"wing hinge, break-away", "wing_hinges"}, {"transport lock, width", "transport_locks"},
		{"spacers per deck", "deck_mounts"}, {"one PTO for all", "control:pto_switch"}, {"turn brakes", "brakes"}, {"diff lock", "diff_lock"}, {"high and low", "control:range"},
		{"rear drive", "control:rear_drive"}, {"belt always", "work/belt_on"}, {"blades of each deck", "blades"}, {"slope", "use:slope"}, {"a wing hit something", "event:wing_hit"}, {"service position", "service/latch"},
	},
	"triplex": {
		{"brake, transport, back-lap off", "permit:start"}, {"either kind of reel drive", "option:reels"}, {"flash codes, reel lamp", "reel_lamps"}, {"nicks, each of three", "reel_edges"},
		{"gap, each of three", "clearance"}, {"paper", "paper"}, {"hoses", "hydraulic_leaks"}, {"cables, connectors", "reel_cables"}, {"oil at the neck", "hydraulic_oil"}, {"coolant", "coolant"},
		{"bowl", "fuel_water"}, {"dust valve", "air_filter"}, {"low tyre, no slope", "rear_tyre"}, {"catchers", "catchers"}, {"foot lock", "brake"}, {"transport lock, pins", "unit_locks"},
		{"under the seat", "under_seat"}, {"belt", "work/belt_on"}, {"clean-up direction", "work/work"}, {"lever never with a foot on the pedal", "control:reel_lever"}, {"reels in two ways", "permit:reels"},
		{"height of cut by gauge bar", "height_of_cut"}, {"rollers parallel", "rollers"}, {"service position", "service/turn_up"}, {"back-lapping", "backlap/brush"}, {"cetane floor", "number:cetane_least"},
		{"a reel is stuck", "event:clog"}, {"oil through the skin", "event:injected"},
	},
	"fairway": {
		{"seat, brake, transport, pedals", "permit:start"}, {"hydraulic hot cuts units", "event:oil_hot"}, {"five lamps", "five_lamps"}, {"oil cold", "engine_oil"}, {"coolant", "coolant"}, {"intercooler", "coolers"},
		{"wing locks", "unit_locks"}, {"gap daily", "clearance"}, {"before and after back-lap", "backlap/gap_before"}, {"and after", "backlap/gap_after"}, {"rollers parallel", "rollers"}, {"gauge bar", "height_of_cut"},
		{"notches", "number:height_notch"}, {"down-pressure pins", "down_pressure"}, {"two back-lap valves", "lap_valves"}, {"enter from the front", "start/mount"}, {"belt", "work/belt_on"}, {"brakes after start", "stops"},
		{"lever", "control:reel_lever"}, {"reels refuse with the brake on", "permit:reels"}, {"preheat", "start/preheat"}, {"units down, idle, key", "shutdown/deck_down"}, {"slope", "use:slope"},
	},
	"zero_turn": {
		{"levers lock outward", "levers"}, {"tracks straight", "tracking"}, {"bypass off", "bypass_levers"}, {"four tyres", "wheel_left_rear"}, {"castors", "castors"}, {"transaxle oil", "drive_oil"},
		{"blades", "blades"}, {"width left", "blade_width"}, {"torque", "blade_torque"}, {"spindles", "spindles"}, {"belts and covers", "belt_covers"}, {"chute", "chute"}, {"bagger", "bagger"}, {"mulch plate", "mulch_plate"},
		{"height of cut", "height_of_cut"}, {"bar three states", "roll_bar"}, {"belt", "seat_belt"}, {"no bar", "option:bar"}, {"parking brake", "parking_brake"}, {"under branches, bar folded", "use:under_trees"},
		{"ramp", "load/ramp"}, {"clog", "event:clog"},
	},
	"tractor": {
		{"shields on shafts", "pto_shield"}, {"pedals coupled", "pedals"}, {"brakes at a roll", "brakes_roll"}, {"ballast", "ballast"}, {"slow emblem", "slow_sign"}, {"lights, horn", "lights_horn"}, {"mirrors, wipers", "mirrors_wipers"},
		{"linkage", "linkage"}, {"steering", "steering_play"}, {"starter cover", "starter_cover"}, {"gear oils", "gear_oils"}, {"bar", "roll_bar"}, {"belt", "seat_belt"}, {"coolant", "coolant"}, {"bowl", "fuel_water"},
		{"tyres", "wheel_left_front"}, {"PTO", "permit:pto"}, {"road", "use:road"}, {"steps", "steps"},
	},
	"boom_mower": {
		{"head down before anyone leaves", "shutdown/down"}, {"counterweight", "counterweight"}, {"height of travel", "travel_height"}, {"slewing ring greased", "slewing_grease"}, {"master switch", "control:boom_master"},
		{"flail or rotary", "option:head"}, {"knives", "flails"}, {"length", "flail_length"}, {"blades", "head_blades"}, {"blade width", "head_blade_width"}, {"flaps, guards", "head_guards"}, {"roller, skids", "roller_skids"},
		{"head belt", "head_belt"}, {"head bolts", "head_bolts"}, {"welds", "boom_welds"}, {"hoses", "boom_hoses"}, {"travel lock", "travel_lock"}, {"its oil", "boom_oil"}, {"functions purged", "start/purge"}, {"flagger first", "work/flagger"},
		{"a power line", "event:line"}, {"the boom settles", "event:settled"},
	},
	"disc_chipper": {
		{"table, curtain", "table_curtain"}, {"spout", "spout"}, {"knives", "knives"}, {"anvil gap", "anvil_gap"}, {"stop bar", "stop_bar"}, {"forward", "work/prove_forward"}, {"and reverse", "work/prove_reverse"}, {"no restart", "permit:feed"},
		{"feed control", "feed_control"}, {"takes up", "cutter_takes_up"}, {"hood pin", "control:hood_pin"}, {"opened only when still", "clean/hood_open"}, {"stands either way", "option:stands"}, {"coupled: brake and chocks", "stands_coupled"},
		{"alone: jack and chocks", "stands_alone"}, {"breakaway", "breakaway"}, {"lights", "tow_lights"}, {"coupling", "coupling"}, {"rollers", "rollers"}, {"disc speed", "disc_speed"}, {"clog", "event:clog"}, {"sleeves tear away", "protection:tear_away"},
	},
	"tracked_trencher": {
		{"teeth", "teeth"}, {"slack, wet or dry", "chain_slack"}, {"sprockets", "sprockets"}, {"pivot", "boom_pivot"}, {"tracks", "track_left"}, {"reverse plate", "reverse_plate"}, {"boom moves, holds", "boom_moves"}, {"parking brake", "parking_brake"},
		{"stops at once", "stops_at_once"}, {"guard", "chain_guard"}, {"sight glass", "hydraulic_oil"}, {"located", "work/marks"}, {"a cable", "event:cable"}, {"a gas pipe", "event:gas"}, {"clog", "event:clog"}, {"chain", "permit:chain"},
		{"either start", "option:start"}, {"boom down to stop", "shutdown/down"},
	},
	"petrol_chainsaw": {
		{"chain brake", "chain_brake"}, {"lock-out", "throttle"}, {"stop switch", "stop_switch"}, {"catcher, hand guards", "guards"}, {"mounts", "mounts"}, {"spark screen", "spark_screen"}, {"tension", "chain_tension"}, {"cutters", "cutters"},
		{"depth gauges", "depth_gauges"}, {"bar", "bar_rails"}, {"oil thrown", "bar_oil"}, {"still at idle", "idle_chain"}, {"scabbard", "scabbard"}, {"never drop-started", "start/hold"}, {"fast idle off first", "start/fast_idle_off"},
		{"mix", "number:mix_ratio"}, {"kicked back", "event:kicked"}, {"pinched", "event:pinched"}, {"legs", "protection:legs"}, {"first aid", "protection:aid"},
	},
	"ride_on_sweeper": {
		{"bristles", "main_bristles"}, {"contact strip", "contact_strip"}, {"side broom", "side_broom"}, {"skirts", "skirts"}, {"filter", "filter_drop"}, {"shaker", "filter_shaker"}, {"prop", "hopper_prop"}, {"door over the fan", "control:fan_door"},
		{"spray", "spray"}, {"beacon", "beacon"}, {"e-stop", "emergency_stop"}, {"dump door", "dump_door"}, {"hopper empty, nothing smoulders", "hopper_empty"}, {"smoulders", "event:smoulders"}, {"water first", "work/water_first"},
		{"tipped level", "work/tip"}, {"brake", "brake_holds"}, {"at a roll", "brakes_roll"}, {"respirator", "protection:respirator"}, {"wire off the brush", "clean/wire"},
	},
	"power_brush": {
		{"let go of the grip, and brush and wheels stand", "permit:brush"}, {"nothing tied round the grip", "grip"}, {"hood, skirt, flap", "hood"},
		{"angle pin seats, both ways", "angle_pin"}, {"bristles against their mark, no wire", "bristles"}, {"drive lever returns", "drive_lever"},
		{"belt and guard", "belt_guard"}, {"height pins alike", "height_pins"}, {"oil, level", "engine_oil"}, {"wheels even", "wheel_right"},
		{"muffler", "muffler"}, {"people, windows", "work/work"}, {"dust", "protection:mask"}, {"brush off the ground to start", "start/brush_up"},
		{"valve", "start/valve_open"}, {"wound up", "event:clog"}, {"kept off its bristles", "store/off_its_tips"}, {"wet first", "work/damp"},
	},
	"wheeled_trencher": {
		{"hub pins, both locked", "hub_pins"}, {"locked before the start", "start/hubs"}, {"grip proved before each trench", "work/grip_proved"},
		{"wheels and chain by the grip", "permit:chain"}, {"lever stays in until the grip", "control:chain_lever"}, {"teeth", "teeth"}, {"tension", "chain_slack"},
		{"sprocket, auger", "sprockets"}, {"boom holds", "boom_moves"}, {"pivot", "boom_pivot"}, {"chain backwards", "control:reverse_lever"}, {"balance", "guards"},
		{"valve", "start/valve_open"}, {"tilt cut-out, by a technician", "tilt_cutout"}, {"stopped itself, tipped", "event:tilted"}, {"oil", "engine_oil"},
		{"hydraulic oil", "hydraulic_oil"}, {"extinguisher", "extinguisher"}, {"located", "work/marks"}, {"a cable", "event:cable"}, {"a gas pipe", "event:gas"}, {"slopes", "use:slope"},
	},
	"snow_thrower": {
		{"oil", "engine_oil"}, {"leaned back, auger by hand", "paddles"}, {"scraper, skids", "scraper"}, {"chute and deflector", "chute"}, {"bail returns", "bail"},
		{"auger stops", "permit:auger"}, {"valve", "start/valve_open"}, {"mains cable", "mains_cable"}, {"cord", "cord"}, {"key", "stop_key"}, {"clear area", "ground_clear"},
		{"soles", "protection:soles"}, {"dry gloves", "protection:warm_gloves"}, {"the stick", "clearing_stick"}, {"clog", "event:clog"}, {"cable in its order", "start/cable_in"},
		{"either start", "option:start"}, {"it creeps", "auger_stops"},
	},
	"stand_on_aerator": {
		{"tines", "tines"}, {"chain, debris", "rotor_chain"}, {"down-pressure gauge and knob", "pressure_gauge"}, {"grease", "grease/fittings"}, {"hoses by card", "hydraulic_leaks"},
		{"air filter", "air_filter"}, {"levers return, reference bar", "levers"}, {"foot off raises", "permit:head"}, {"hands off stops tines", "permit:rotor"}, {"brake knob", "brake_knob"},
		{"guards", "guards"}, {"fuel valve", "start/valve_open"}, {"tyres", "wheel_left"}, {"slopes, less pressure", "use:slope"}, {"sprinklers flagged", "flagged"},
		{"midway, choke", "start/choke"}, {"head down or locked", "shutdown/down"}, {"fuel cool", "fuel/cool"},
	},
	"electric_cart": {
		{"tyres", "tyres"}, {"charge", "charge"}, {"cables, water", "battery_cables"}, {"charger off", "unplugged"}, {"plugged in it does not drive", "permit:drive"},
		{"selector", "control:selector"}, {"brakes", "brake"}, {"steering", "steering"}, {"seats, handholds", "seats_holds"}, {"horn, sounder, lamps", "horn_lamps"},
		{"load and latch", "bed"}, {"damage", "around"}, {"brake before it is used", "slow_roll"}, {"charged where air moves", "charge/where"}, {"riders", "start/riders"}, {"left turns", "work/drive"},
	},
	"tilt_trailer": {
		{"ball, latch, pin, clip", "coupling"}, {"the ball's size", "ratings"}, {"bed latch and pin", "bed_latch"}, {"hinge", "hinge"}, {"wheel lock", "wheel_lock"},
		{"two chains, rings", "chains"}, {"tyres", "wheel_left"}, {"bearings", "bearings"}, {"lamps", "tow_lights"}, {"jack", "jack_chocks"}, {"boards", "deck"},
		{"breakaway", "breakaway"}, {"nobody behind", "underneath"}, {"couple before loading", "load/couple"}, {"pin out to load", "load/lock_ready"}, {"pin in to ride", "load/latch"},
		{"chained", "load/chain"}, {"ball", "load/ball"}, {"chains crossed", "load/chains"}, {"plug and cable", "load/cable_plug"}, {"lamps", "load/lamps"}, {"fuel valve shut", "load/fuel_off"}, {"after a few blocks", "work/look_again"}, {"sways", "event:sways"}, {"height", "number:transport_height"},
	},
	"battery_chainsaw": {
		{"pack out before the chain", "clean/brush"}, {"pack case", "pack_case"}, {"brake by the wrist", "chain_brake"}, {"lock-out", "trigger"}, {"tried with power", "permit:chain"},
		{"enable button", "control:enable"}, {"catcher and guards", "guards"}, {"tension", "chain_tension"}, {"bar", "bar_rails"}, {"cutters", "cutters"}, {"depth gauges", "depth_gauges"},
		{"oil thrown", "bar_oil"}, {"oil level", "bar_oil_level"}, {"run-down, no creep", "idle_chain"}, {"charger", "charger"}, {"scabbard", "scabbard"}, {"pack in last", "start/pack_in"},
		{"pack out at the end", "shutdown/pack_out"}, {"charged where nothing burns", "charge/where"}, {"a hot pack", "event:pack_hot"}, {"legs", "protection:legs"},
	},
	"tow_sweeper": {
		{"either drive", "option:turned_by"}, {"shaft, shield, chains", "shaft"}, {"shaft coupled with the engine off", "work/shaft_on"},
		{"drawbar pin", "hitch"}, {"jack", "jack"}, {"bristles", "bristles"}, {"tips", "tips"}, {"pawls", "pawls"}, {"hopper latch, prop", "hopper"}, {"rope", "rope"},
		{"tyres", "tyres"}, {"flaps", "flaps"}, {"weight, gate", "weight"}, {"smouldering", "event:smoulders"}, {"down at a standstill", "work/brush_down"},
		{"dump with nobody behind", "work/dump"}, {"prop before reaching in", "clean/raise"}, {"off its tips", "shutdown/brush_up"}, {"slopes", "use:slope"},
	},
	"lychgate_tow_engine": {
		{"own engine", "permit:start"}, {"brush by its lever", "permit:brush"}, {"lever and its cable", "brush_lever"}, {"belt goes slack", "belt_guard"}, {"oil", "engine_oil"}, {"fuel", "fuel_system"},
		{"cord", "control:cord"}, {"fuelled cool", "fuel/cool"}, {"valve shut on the way", "load/valve_shut"}, {"coupled before it moves", "load/couple"}, {"drawbar pin", "hitch"}, {"jack", "jack"}, {"bristles", "bristles"},
		{"tips", "tips"}, {"hopper latch, prop", "hopper"}, {"rope", "rope"}, {"tyres", "tyres"}, {"flaps", "flaps"}, {"weight, gate", "weight"}, {"smouldering", "event:smoulders"}, {"down at a standstill", "work/brush_down"},
		{"run down before it is emptied", "work/still"}, {"dump with nobody behind", "work/dump"}, {"prop before reaching in", "clean/raise"}, {"off its tips", "shutdown/brush_up"}, {"cooled before a roof", "store/cool"}, {"slopes", "use:slope"},
	},
	"walk_reel": {
		{"kickstand", "kickstand"}, {"reel and bed-knife", "reel_edges"}, {"gap", "clearance"}, {"paper", "paper"}, {"transport wheels", "transport_wheels"}, {"off before the green", "work/wheels_off"},
		{"basket", "basket"}, {"levers", "levers"}, {"park brake", "control:parking_brake"}, {"handle height", "handle_height"}, {"oil", "engine_oil"}, {"strainer line", "fuel/fill"},
		{"valve by task", "start/valve_open"}, {"valve shut", "shutdown/valve_shut"}, {"bail, where fitted", "option:bail"}, {"rollers", "rollers"}, {"height of cut", "height_of_cut"}, {"drum, clutch", "drum_drive"},
		{"sealed bearings", "grease/fittings"}, {"direction, flag, coins", "green_ready"}, {"clog", "event:clog"},
	},
	"front_deck": {
		{"oil by dipstick", "engine_oil"}, {"transaxle, under the footplate", "transaxle_oil"}, {"bottle", "coolant"}, {"water bowl", "fuel_water"}, {"air filter", "air_filter"}, {"belts", "belts_cooler"},
		{"shaft, shield, gearbox", "drive_shaft"}, {"blades, gloved", "blades"}, {"chute never propped", "chute"}, {"latches, pins, spacers", "deck_mounts"}, {"turn brakes, foot lock", "brakes"},
		{"lock lets go", "diff_lock"}, {"bar and belt", "roll_bar"}, {"belt", "seat_belt"}, {"footplate, covers clean", "clean/under"}, {"floats on the way", "work/drive"}, {"service position", "service/latch"},
		{"fault codes", "event:codes"}, {"both pedals", "pedals"}, {"preheat", "start/preheat"}, {"two minutes", "start/warm"}, {"deck down", "shutdown/deck_down"}, {"cooled before fuel", "fuel/cool"}, {"slopes", "use:slope"}, {"dry before grease", "grease/dry"},
	},
	"slope_rider": {
		{"service brake", "service_roll"}, {"emergency pedal", "emergency_roll"}, {"seat reach", "seat_reach"}, {"four places of the lever", "control:drive_lever"}, {"lock lets go", "diff_lock"},
		{"folding bar", "roll_bar"}, {"belt", "seat_belt"}, {"transport notch", "transport_lock"}, {"blade lever", "control:blade_lever"}, {"blades, guards, flaps", "blades"}, {"tyres", "front_tyres"},
		{"oil", "engine_oil"}, {"branches, children", "bank_walked"}, {"dry grass on the engine", "engine_debris"}, {"rises with the blades on", "permit:run"}, {"fuel cold", "fuel/cool"}, {"outdoors", "fuel/spot"},
		{"up and down, dry, by day", "use:slope"}, {"never in reverse", "work/work"}, {"the other brake fails", "event:brake_lost"}, {"stands on a slope", "event:stopped_on_slope"},
	},
	"side_cutter": {
		{"fray, ends", "cable"}, {"then slack", "cable_slack"}, {"winch bolts", "winch_bolts"}, {"housing, bar, blade bolts", "head_bolts"}, {"a pair", "blades"}, {"blade left", "blade_width"},
		{"hair line, flaps", "head_guards"}, {"hoses, protector", "boom_hoses"}, {"oil", "boom_oil"}, {"named grease alone", "spindle_grease"}, {"none on boom or sleeve", "grease/fittings"},
		{"each lever holds", "levers"}, {"lift floats", "control:lift_lever"}, {"tilt floats", "control:tilt_lever"}, {"cradle", "cradle"}, {"brakes tied for the road", "load/road"}, {"a minute to run down", "number:coast"},
		{"stays seated", "shutdown/seat"}, {"lock-out by the lever", "control:cutter_lever"}, {"low gear, head in front", "work/engage"}, {"flagger first", "work/flagger"}, {"bottom up", "work/work"},
		{"idle before off", "shutdown/engine_off"}, {"last look round", "shutdown/leave"}, {"the cable parts", "event:cable_gone"}, {"height", "travel_height"},
	},
}

// TestWhatWouldBeMissed: each thing that a practitioner would look for in a family is
// covered by something of its sheet.
func TestWhatWouldBeMissed(t *testing.T) {
	all, err := All()
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]bool{}
	for _, r := range all {
		kind := r.Sheet.Family
		if _, own := content[r.Sheet.ID]; own { // another machine of a family that has one
			kind = r.Sheet.ID
		}
		rows := content[kind]
		seen[kind] = true
		for _, row := range rows {
			if !holds(r.Sheet, row[1]) {
				t.Errorf("%s: nothing for %q: %s", r.Sheet.ID, row[0], row[1])
			}
		}
		if len(rows) < 12 {
			t.Errorf("%s: %d rows", kind, len(rows))
		}
	}
	for family := range content {
		if !seen[family] {
			t.Errorf("no sheet of %s", family)
		}
	}
}

func holds(s *machine.Sheet, id string) bool {
	kind, name, special := strings.Cut(id, ":")
	procedure, step, ofSteps := strings.Cut(id, "/")
	switch {
	case ofSteps:
		return slices.ContainsFunc(s.Procedures, func(p machine.Procedure) bool {
			return p.ID == procedure && slices.ContainsFunc(p.Steps, func(one machine.Step) bool { return one.ID == step })
		})
	case !special:
		_, ok := s.Check(id)
		return ok || slices.ContainsFunc(s.Checks, func(c machine.Check) bool { return c.ID == id })
	case kind == "control":
		return slices.ContainsFunc(s.Controls, func(c machine.Control) bool { return c.ID == name })
	case kind == "event":
		return slices.ContainsFunc(s.Events, func(e machine.Event) bool { return e.ID == name })
	case kind == "number":
		return slices.ContainsFunc(s.Numbers, func(n machine.Parameter) bool { return n.ID == name })
	case kind == "permit":
		return slices.ContainsFunc(s.Interlock.Permits, func(p machine.Permit) bool { return p.ID == name })
	case kind == "option":
		return slices.ContainsFunc(s.Options, func(o machine.Option) bool { return o.ID == name })
	case kind == "protection":
		return slices.ContainsFunc(s.Protection, func(p machine.Protection) bool { return p.ID == name })
	case kind == "use":
		return slices.ContainsFunc(s.Uses, func(u machine.Use) bool { return u.ID == name })
	}
	return false
}
