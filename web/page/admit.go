package page

// Who is let to a page.

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"vespers/core/operator"
)

// OwnPIN is where somebody chooses their own PIN.
const OwnPIN = "/me/pin"

// Admit lets a visit through when its role may do what the route is for. Who
// signed in with a PIN that somebody else set chooses their own before anything
// else.
func (s *Site) Admit(r Route) gin.HandlerFunc {
	roles := operator.Who(r.Act)
	return func(g *gin.Context) {
		v := s.visit(g)
		switch {
		case r.Act == "":
			r.Handle(v)
		case v.broken != nil:
			v.Fail(v.broken)
		case v.Person == nil:
			v.turnAway()
		case v.lent && r.Path != OwnPIN:
			v.chooseFirst()
		case !v.Person.May(r.Act, operator.Own, v.Now) && !v.Person.May(r.Act, operator.Others, v.Now):
			v.forbidden(roles)
		default:
			r.Handle(v)
		}
	}
}

func (v *Visit) chooseFirst() {
	if v.Scripted() {
		v.Problem(http.StatusForbidden, v.T("pin.choose_first"), "")
		return
	}
	v.Go(OwnPIN)
}

// Lent reports whether the person signed in with a PIN that somebody else set.
func (v *Visit) Lent() bool { return v.lent }

// Home leads to the first page of whoever is there.
func Home(v *Visit) {
	if v.Person == nil {
		v.turnAway()
		return
	}
	v.Go("/yard")
}
