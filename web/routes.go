package web

import (
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"vespers/core/operator"
)

// route is one address and who may use it: no roles means anyone, signed in or
// not.
type route struct {
	method, path string
	roles        []operator.Role
	handle       func(*visit)
}

var (
	anyone     []operator.Role
	crew       = operator.Roles()
	hands      = []operator.Role{operator.Operator, operator.Lead, operator.Technician, operator.Trainee}
	leads      = []operator.Role{operator.Lead}
	menders    = []operator.Role{operator.Technician}
	releasers  = []operator.Role{operator.Operator, operator.Lead, operator.Technician}
	formMethod = http.MethodPost
)

// routes is every address of the program.
func (s *server) routes() []route {
	return []route{
		{"GET", "/healthz", anyone, s.health},
		{"GET", "/static/*file", anyone, s.static},
		{"GET", "/", anyone, s.home},
		{"GET", "/setup", anyone, s.showSetup},
		{formMethod, "/setup", anyone, s.setup},
		{"GET", "/sign-in", anyone, s.showPeople},
		{"GET", "/sign-in/:person", anyone, s.showPIN},
		{formMethod, "/sign-in/:person", anyone, s.signIn},
		{formMethod, "/sign-out", anyone, s.signOut},

		{"GET", "/yard", crew, s.showYard},
		{"GET", "/yard/list", crew, s.showList},
		{"GET", "/day", crew, s.showDay},
		{"GET", "/me", crew, s.showMe},
		{formMethod, "/me", crew, s.saveMe},
		{"GET", "/machines/:machine", crew, s.showMachine},
		{formMethod, "/machines/:machine/outing", hands, s.takeOut},
		{"GET", "/defects/:defect", crew, s.showDefect},
		{formMethod, "/defects/:defect/close", menders, s.closeDefect},

		{"GET", "/outings/:outing", crew, s.showOuting},
		{"GET", "/outings/:outing/ready", crew, s.showReady},
		{"GET", "/outings/:outing/walk", crew, s.showWalk},
		{"GET", "/outings/:outing/round", crew, s.showRound},
		{"GET", "/outings/:outing/verdict", crew, s.showVerdict},
		{"GET", "/outings/:outing/slip", crew, s.showSlip},
		{formMethod, "/outings/:outing/ready", hands, s.ready},
		{formMethod, "/outings/:outing/answer", hands, s.answerPoint},
		{formMethod, "/outings/:outing/right", hands, s.putRight},
		{formMethod, "/outings/:outing/set", hands, s.set},
		{formMethod, "/outings/:outing/crank", hands, s.crank},
		{formMethod, "/outings/:outing/test", hands, s.test},
		{formMethod, "/outings/:outing/release", releasers, s.release},
		{formMethod, "/outings/:outing/end", hands, s.end},

		{"GET", "/people", leads, s.showCrew},
		{formMethod, "/people", leads, s.addPerson},
		{formMethod, "/people/:person/manual", leads, s.recordManual},
		{formMethod, "/people/:person/pin", leads, s.resetPIN},
		{formMethod, "/people/:person/left", leads, s.personLeft},
		{"GET", "/machines-new", leads, s.showNewMachine},
		{formMethod, "/machines-new", leads, s.addMachine},
		{formMethod, "/machines/:machine/sheet", leads, s.adoptSheet},
	}
}

// admit lets a visit through when its role may use the route.
func (s *server) admit(r route) gin.HandlerFunc {
	return func(g *gin.Context) {
		v := s.visit(g)
		switch {
		case len(r.roles) == 0:
			r.handle(v)
		case v.person == nil:
			s.turnAway(v)
		case !slices.Contains(r.roles, v.person.Role):
			v.forbidden(r.roles)
		default:
			r.handle(v)
		}
	}
}
