package procedure

// What must never happen, each once: the expression, the harm, where the rule
// comes from, and the sentence. No way through any procedure of any machine that
// has these facts reaches one; Check proves it.

import (
	"vespers/core/machine"
	"vespers/core/text"
)

// Hazard is a state, or an act, that must never be.
type Hazard struct {
	ID string
	// At names a fact, or one of its values (metal=cool): judged only where an answer
	// sets it. Without it the hazard is judged wherever it becomes true.
	At string
	// When is the expression.
	When string
	// ButTest: a step that is part of a proof may do it.
	ButTest bool
	// House is the house rule and its choice under which it is one.
	House string
	// NotBattery: no engine, no fumes.
	NotBattery bool
	Harm       text.Text
	Source     machine.Source
	Text       text.Text
}

var (
	fire      = text.Text{EN: "fire", ES: "incendio"}
	fumes     = text.Text{EN: "poisoned by exhaust", ES: "intoxicación por gases"}
	struck    = text.Text{EN: "struck, run over", ES: "golpe, atropello"}
	caught    = text.Text{EN: "caught or cut", ES: "atrapamiento o corte"}
	thrown    = text.Text{EN: "struck by what is thrown", ES: "golpe de objetos lanzados"}
	rolled    = text.Text{EN: "machine rolls off", ES: "la máquina se va rodando"}
	crushed   = text.Text{EN: "crushed", ES: "aplastamiento"}
	unproved  = text.Text{EN: "works with an unproved safeguard", ES: "trabaja con una protección sin probar"}
	cracked   = text.Text{EN: "cracked metal, steam", ES: "metal agrietado, vapor"}
	shock     = text.Text{EN: "arc, burst pack, fire", ES: "arco, batería reventada, incendio"}
	ruined    = text.Text{EN: "water or grease where it does harm", ES: "agua o grasa donde hace daño"}
	shortened = text.Text{EN: "a wait that was not kept", ES: "una espera no cumplida"}
)

// hazards is the table, in the order in which a handbook would tell it.
var hazards = []Hazard{
	// Fuelling.
	{ID: "cap_running", When: "cap == open && engine == running", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "The fuel cap is open while the engine runs.", ES: "La tapa del combustible está abierta con el motor en marcha."}},
	{ID: "cap_key", When: "cap == open && key == in", Harm: fire, Source: machine.Trade,
		Text: text.Text{EN: "The fuel cap is open with the key in: somebody may start it.", ES: "La tapa del combustible está abierta con la llave puesta: alguien puede arrancarla."}},
	{ID: "cap_hot", When: "cap == open && metal == hot", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "The fuel cap is open over hot metal.", ES: "La tapa del combustible está abierta sobre metal caliente."}},
	{ID: "cap_can", When: "cap == open && can == bed", Harm: fire, Source: machine.Trade,
		Text: text.Text{EN: "Fuel is poured from a can on a bed: it gathers charge and sparks.", ES: "Se vierte de un bidón sobre una caja o remolque: se carga y salta una chispa."}},
	{ID: "cap_bed", When: "cap == open && place in (bed, indoors)", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "The fuel cap is open indoors or on a bed.", ES: "La tapa del combustible está abierta bajo techo o sobre una caja o remolque."}},
	{ID: "cap_level", At: "cap=open", When: "level != yes", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "The fuel cap is opened on a slope, or nobody looked.", ES: "Se abre la tapa del combustible en pendiente, o nadie miró."}},
	{ID: "cap_place", At: "cap=open", When: "place != outdoors", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "The fuel cap is opened elsewhere than outdoors.", ES: "Se abre la tapa del combustible en un lugar que no está al aire libre."}},
	{ID: "cap_ignition", At: "cap=open", When: "ignition != none", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "The fuel cap is opened near a flame, a smoker or a running engine, or nobody looked.", ES: "Se abre la tapa del combustible cerca de una llama, alguien que fuma o un motor en marcha, o nadie miró."}},
	{ID: "run_spill", When: "engine == running && spill in (wet, wiped)", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "The engine runs over spilled fuel whose vapour is not gone.", ES: "El motor marcha sobre combustible derramado cuyo vapor no se ha ido."}},
	// Starting.
	{ID: "start_near_fuel", At: "engine=running", When: "from_fuel == near", Harm: fire, Source: machine.Trade,
		Text: text.Text{EN: "The engine is started where it was fuelled.", ES: "Se arranca el motor donde se cargó combustible."}},
	{ID: "start_person", At: "engine=running", When: "person != in_place", Harm: struck, Source: machine.Manual,
		Text: text.Text{EN: "The engine is started by somebody who is not in the operator's place.", ES: "Arranca el motor alguien que no está en el puesto del operador."}},
	{ID: "start_people", At: "engine=running", When: "people != clear", Harm: struck, Source: machine.Manual,
		Text: text.Text{EN: "The engine is started with people near, or nobody looked.", ES: "Se arranca el motor con gente cerca, o nadie miró."}},
	{ID: "start_brake", At: "engine=running", When: "brake != set", Harm: rolled, Source: machine.Manual,
		Text: text.Text{EN: "The engine is started with the brake off.", ES: "Se arranca el motor con el freno suelto."}},
	{ID: "start_cutter", At: "engine=running", When: "cutter == on", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "The engine is started with the cutter engaged.", ES: "Se arranca el motor con el corte conectado."}},
	{ID: "start_place", At: "engine=running", When: "!(place in (outdoors, open_shed))", NotBattery: true, Harm: fumes, Source: machine.Manual,
		Text: text.Text{EN: "The engine is started where its fumes gather.", ES: "Se arranca el motor donde se juntan los gases."}},
	{ID: "start_unproved", At: "engine=running", When: "walk != passed || refusals != passed", ButTest: true, Harm: unproved, Source: machine.HouseRule,
		Text: text.Text{EN: "The engine is started before the walk-around and the refusals are passed.", ES: "Se arranca el motor sin haber pasado la ronda de inspección y las negativas."}},
	// Cutting.
	{ID: "cutter_people", At: "cutter=on", When: "people != clear", Harm: thrown, Source: machine.Manual,
		Text: text.Text{EN: "The cutter is engaged with people near, or nobody looked.", ES: "Se conecta el corte con gente cerca, o nadie miró."}},
	{ID: "cutter_released", At: "cutter=on", When: "released != passed", ButTest: true, Harm: unproved, Source: machine.HouseRule,
		Text: text.Text{EN: "The cutter is engaged on a machine that is not released.", ES: "Se conecta el corte en una máquina que no está liberada."}},
	{ID: "near_cutter", When: "people == near && cutter == on", Harm: thrown, Source: machine.Manual,
		Text: text.Text{EN: "People are near and the cutter stays engaged.", ES: "Hay gente cerca y el corte sigue conectado."}},
	// Walking away from it.
	{ID: "away_engine", When: "person == away && engine == running", Harm: struck, Source: machine.Manual,
		Text: text.Text{EN: "The machine is left with its engine running.", ES: "Se deja la máquina con el motor en marcha."}},
	{ID: "away_key", When: "person == away && key == in", Harm: struck, Source: machine.HouseRule,
		Text: text.Text{EN: "The machine is left with the key in.", ES: "Se deja la máquina con la llave puesta."}},
	{ID: "away_brake", When: "person == away && brake != set", Harm: rolled, Source: machine.Manual,
		Text: text.Text{EN: "The machine is left with the brake off and no chock.", ES: "Se deja la máquina con el freno suelto y sin calza."}},
	{ID: "away_attachment", When: "person == away && attachment == up", Harm: crushed, Source: machine.Manual,
		Text: text.Text{EN: "The machine is left with its attachment raised.", ES: "Se deja la máquina con el accesorio levantado."}},
	{ID: "away_motion", When: "person == away && motion == turning", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "The machine is left while something on it still turns.", ES: "Se deja la máquina mientras algo todavía gira."}},
	// Hands.
	{ID: "hands_engine", When: "hands == at_cutter && engine == running", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "Hands are at the cutter while the engine runs.", ES: "Hay manos en el corte con el motor en marcha."}},
	{ID: "hands_key", When: "hands == at_cutter && key == in", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "Hands are at the cutter with the key in.", ES: "Hay manos en el corte con la llave puesta."}},
	{ID: "hands_motion", When: "hands == at_cutter && motion == turning", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "Hands are at the cutter while it turns, or nobody saw it still.", ES: "Hay manos en el corte mientras gira, o nadie lo vio quieto."}},
	{ID: "hands_lead", When: "hands == at_cutter && lead == on", House: "clearing=lead_off", Harm: caught, Source: machine.HouseRule,
		Text: text.Text{EN: "Hands are at the cutter with the spark lead on, or the pack or isolator in.", ES: "Hay manos en el corte con el cable de bujía puesto, o la batería o el corta corriente conectados."}},
	// Waits.
	{ID: "still_unseen", At: "motion=still", When: "answer != yes || !(waited(cutter=off) || waited(engine=off))", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "It is taken for still before it has run down and somebody has seen it.", ES: "Se da por quieto antes de que se detenga y alguien lo vea."}},
	{ID: "cool_unwaited", At: "metal=cool", When: "!waited(engine=off)", Harm: shortened, Source: machine.Manual,
		Text: text.Text{EN: "It is taken for cool before its time is over.", ES: "Se da por frío antes de que pase su tiempo."}},
	{ID: "gone_unwaited", At: "spill=gone", When: "!waited(spill=wiped)", Harm: shortened, Source: machine.HouseRule,
		Text: text.Text{EN: "Vapour is taken for gone before its time is over.", ES: "Se da por ido el vapor antes de que pase su tiempo."}},
	// Cleaning and greasing.
	{ID: "water_hot", When: "water == on && metal == hot", Harm: cracked, Source: machine.Manual,
		Text: text.Text{EN: "Water is put on hot metal.", ES: "Se echa agua sobre metal caliente."}},
	{ID: "water_running", When: "water == on && engine == running", Harm: ruined, Source: machine.Manual,
		Text: text.Text{EN: "It is washed while the engine runs.", ES: "Se lava con el motor en marcha."}},
	{ID: "grease_running", When: "grease == on && engine == running", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "It is greased while the engine runs.", ES: "Se engrasa con el motor en marcha."}},
	{ID: "grease_motion", When: "grease == on && motion == turning", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "It is greased while something turns, or nobody saw it still.", ES: "Se engrasa mientras algo gira, o nadie lo vio quieto."}},
	// Under a roof.
	{ID: "indoors_hot", At: "place=indoors", When: "metal == hot", Harm: fire, Source: machine.HouseRule,
		Text: text.Text{EN: "It is put indoors while it is hot.", ES: "Se guarda bajo techo mientras está caliente."}},
	{ID: "indoors_running", When: "place == indoors && engine == running", NotBattery: true, Harm: fumes, Source: machine.Manual,
		Text: text.Text{EN: "The engine runs indoors.", ES: "El motor marcha bajo techo."}},
	// Driving.
	{ID: "belt_folded", When: "belt == on && bar == folded", Harm: crushed, Source: machine.Manual,
		Text: text.Text{EN: "The belt is on while the roll bar is folded.", ES: "El cinturón está puesto con el arco plegado."}},
	{ID: "belt_off", When: "travel == moving && bar == up && belt == off", Harm: crushed, Source: machine.Manual,
		Text: text.Text{EN: "It is driven with the roll bar up and the belt off.", ES: "Se conduce con el arco arriba y el cinturón suelto."}},
	{ID: "move_brake", At: "travel=moving", When: "person != in_place", Harm: struck, Source: machine.Manual,
		Text: text.Text{EN: "It is moved by somebody who is not in the operator's place.", ES: "La mueve alguien que no está en el puesto del operador."}},
	// Feeding wood, soil or grass.
	{ID: "feed_proved", When: "feeding == yes && (proved_forward == no || proved_reverse == no)", Harm: caught, Source: machine.Manual,
		Text: text.Text{EN: "It is fed before its stop bar is proved, forward and reverse, since this start.", ES: "Se alimenta sin haber probado la barra de paro, adelante y atrás, en este arranque."}},
	{ID: "feed_released", At: "feeding=yes", When: "released != passed", Harm: unproved, Source: machine.HouseRule,
		Text: text.Text{EN: "It is fed before it is released.", ES: "Se alimenta antes de estar liberada."}},
	// Charging.
	{ID: "charge_connect", At: "lead", When: "charger == plugged", Harm: shock, Source: machine.Manual,
		Text: text.Text{EN: "The pack is connected or disconnected with the charger plugged in.", ES: "Se conecta o desconecta la batería con el cargador enchufado."}},
	{ID: "charge_ignition", At: "charger=plugged", When: "ignition != none", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "Charging begins near a flame or spark, or nobody looked.", ES: "Se empieza a cargar cerca de una llama o chispa, o nadie miró."}},
	{ID: "charge_damaged", When: "charger == plugged && pack != sound", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "A pack is charged that is damaged, or that nobody looked at.", ES: "Se carga una batería dañada, o que nadie miró."}},
	{ID: "charge_running", When: "charger == plugged && engine == running", Harm: shock, Source: machine.Manual,
		Text: text.Text{EN: "It is switched on while it charges.", ES: "Está encendida mientras se carga."}},
	{ID: "move_charging", When: "charger == plugged && travel == moving", Harm: shock, Source: machine.Manual,
		Text: text.Text{EN: "It is moved with the charger plugged in.", ES: "Se mueve con el cargador enchufado."}},
	// Road and trailer.
	{ID: "transport_cutter", When: "transport != no && cutter == on", Harm: thrown, Source: machine.Manual,
		Text: text.Text{EN: "It is on the road or a trailer with the cutter engaged.", ES: "Va por carretera o en remolque con el corte conectado."}},
	{ID: "transport_attach", When: "transport != no && attachment != rest", Harm: struck, Source: machine.Manual,
		Text: text.Text{EN: "It is on the road or a trailer with its attachment not locked in its rest.", ES: "Va por carretera o en remolque sin el accesorio asegurado en su soporte."}},
	{ID: "transport_valve", When: "transport == trailer && valve == open", Harm: fire, Source: machine.Manual,
		Text: text.Text{EN: "It is on a trailer with the fuel valve open.", ES: "Va en remolque con la válvula de combustible abierta."}},
	{ID: "transport_motion", At: "transport", When: "transport != no && motion == turning", Harm: thrown, Source: machine.Manual,
		Text: text.Text{EN: "It goes on the road or a trailer while the cutter still turns.", ES: "Sale a carretera o sube al remolque mientras el corte todavía gira."}},
}

// Hazards lists what must never happen with any machine, as it is published.
func Hazards() []Hazard { return append([]Hazard(nil), hazards...) }
