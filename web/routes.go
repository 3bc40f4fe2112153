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
	bare         bool // no session, and nobody to speak to
}

var (
	anyone     []operator.Role
	crew       = operator.Roles()
	hands      = []operator.Role{operator.Operator, operator.Lead, operator.Technician, operator.Trainee}
	leads      = []operator.Role{operator.Lead}
	menders    = []operator.Role{operator.Technician}
	formMethod = http.MethodPost
)

// routes is every address of the program.
func (s *server) routes() []route {
	return []route{
		{method: "GET", path: "/healthz", handle: s.health, bare: true},
		{method: "GET", path: "/static/*file", handle: s.static, bare: true},
		{method: "GET", path: "/", roles: anyone, handle: s.home},
		{method: "GET", path: "/setup", roles: anyone, handle: s.showSetup},
		{method: formMethod, path: "/setup", roles: anyone, handle: s.setup},
		{method: "GET", path: "/sign-in", roles: anyone, handle: s.showPeople},
		{method: "GET", path: "/sign-in/:person", roles: anyone, handle: s.showPIN},
		{method: formMethod, path: "/sign-in/:person", roles: anyone, handle: s.signIn},
		{method: formMethod, path: "/sign-out", roles: anyone, handle: s.signOut},

		{method: "GET", path: "/yard", roles: crew, handle: s.showYard},
		{method: "GET", path: "/yard/list", roles: crew, handle: s.showList},
		{method: "GET", path: "/day", roles: crew, handle: s.showDay},
		{method: "GET", path: "/me", roles: crew, handle: s.showMe},
		{method: formMethod, path: "/me", roles: crew, handle: s.saveMe},
		{method: "GET", path: "/machines/:machine", roles: crew, handle: s.showMachine},
		{method: formMethod, path: "/machines/:machine/outing", roles: hands, handle: s.takeOut},
		{method: "GET", path: "/defects/:defect", roles: crew, handle: s.showDefect},
		{method: formMethod, path: "/defects/:defect/close", roles: menders, handle: s.closeDefect},
		{method: "GET", path: "/defects/:defect/find", roles: menders, handle: s.showFind},
		{method: formMethod, path: "/defects/:defect/find", roles: menders, handle: s.tryFault},
		{method: formMethod, path: "/defects/:defect/find/again", roles: menders, handle: s.dropTrials},
		{method: "GET", path: "/machines/:machine/help", roles: crew, handle: s.showHelp},
		{method: "GET", path: "/machines/:machine/bench", roles: crew, handle: s.showBench},
		{method: "GET", path: "/machines/:machine/bench/ladder", roles: crew, handle: s.showBenchLadder},
		{method: "GET", path: "/patterns", roles: leads, handle: s.showPatterns},
		{method: "GET", path: "/wall", roles: leads, handle: s.showWall},

		{method: "GET", path: "/outings/:outing", roles: crew, handle: s.showOuting},
		{method: "GET", path: "/outings/:outing/ready", roles: crew, handle: s.showReady},
		{method: "GET", path: "/outings/:outing/walk", roles: crew, handle: s.showWalk},
		{method: "GET", path: "/outings/:outing/round", roles: crew, handle: s.showRound},
		{method: "GET", path: "/outings/:outing/verdict", roles: crew, handle: s.showVerdict},
		{method: "GET", path: "/outings/:outing/slip", roles: crew, handle: s.showSlip},
		{method: formMethod, path: "/outings/:outing/ready", roles: hands, handle: s.ready},
		{method: formMethod, path: "/outings/:outing/answer", roles: hands, handle: s.answerPoint},
		{method: formMethod, path: "/outings/:outing/right", roles: hands, handle: s.putRight},
		{method: formMethod, path: photoRoute, roles: hands, handle: s.note},
		{method: "GET", path: "/photos/:photo", roles: crew, handle: s.showPhoto},
		{method: "GET", path: "/machines/:machine/label", roles: crew, handle: s.showLabel},
		{method: formMethod, path: "/outings/:outing/set", roles: hands, handle: s.set},
		{method: formMethod, path: "/outings/:outing/from", roles: hands, handle: s.reroute},
		{method: formMethod, path: "/outings/:outing/tell", roles: hands, handle: s.tell},
		{method: formMethod, path: "/outings/:outing/crank", roles: hands, handle: s.crank},
		{method: formMethod, path: "/outings/:outing/test", roles: hands, handle: s.test},
		{method: formMethod, path: "/outings/:outing/release", roles: hands, handle: s.release},
		{method: "GET", path: "/outings/:outing/break", roles: crew, handle: s.showBreak},
		{method: formMethod, path: "/outings/:outing/break", roles: hands, handle: s.beginBreak},
		{method: formMethod, path: "/outings/:outing/break/answer", roles: hands, handle: s.answerBreak},
		{method: formMethod, path: "/outings/:outing/end", roles: hands, handle: s.end},

		{method: "GET", path: "/people", roles: leads, handle: s.showCrew},
		{method: formMethod, path: "/people", roles: leads, handle: s.addPerson},
		{method: formMethod, path: "/people/:person/manual", roles: leads, handle: s.recordManual},
		{method: formMethod, path: "/people/:person/qualification", roles: leads, handle: s.recordQualification},
		{method: formMethod, path: "/people/:person/born", roles: leads, handle: s.recordBorn},
		{method: formMethod, path: "/people/:person/pin", roles: leads, handle: s.resetPIN},
		{method: formMethod, path: "/people/:person/left", roles: leads, handle: s.personLeft},
		{method: "GET", path: "/machines-new", roles: leads, handle: s.showNewMachine},
		{method: formMethod, path: "/machines-new", roles: leads, handle: s.addMachine},
		{method: formMethod, path: "/machines/:machine/sheet", roles: leads, handle: s.adoptSheet},
	}
}

// admit lets a visit through when its role may use the route.
func (s *server) admit(r route) gin.HandlerFunc {
	return func(g *gin.Context) {
		if r.bare {
			r.handle(&visit{s: s, gin: g})
			return
		}
		v := s.visit(g)
		switch {
		case len(r.roles) == 0:
			r.handle(v)
		case v.broken != nil:
			s.fail(v, v.broken)
		case v.person == nil:
			s.turnAway(v)
		case !slices.Contains(r.roles, v.person.Role):
			v.forbidden(r.roles)
		default:
			r.handle(v)
		}
	}
}
