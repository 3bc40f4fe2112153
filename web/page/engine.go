package page

// The one place that knows the web framework.

import (
	"errors"
	"fmt"
	"net/http"
	"path"
	"strings"
	"time"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"vespers/photo"
)

// maxBody bounds what a client may send.
const maxBody = 64 << 10

// Handler serves the routes, and beside them what needs no visit.
func Handler(s *Site, routes []Route, plain map[string]http.HandlerFunc) (http.Handler, error) {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	if err := engine.SetTrustedProxies(nil); err != nil {
		return nil, err
	}
	engine.HandleMethodNotAllowed = true
	uploads := map[string]bool{}
	engine.Use(s.observe, gzip.Gzip(5, gzip.WithCustomShouldCompressFn(compressed)), func(g *gin.Context) { limit(g, uploads[g.FullPath()]) })
	for at, handle := range plain {
		engine.GET(at, gin.WrapF(handle))
		engine.HEAD(at, gin.WrapF(handle))
	}
	for _, r := range routes {
		uploads[r.Path] = r.Upload
		engine.Handle(r.Method, r.Path, s.Admit(r))
	}
	engine.NoRoute(func(g *gin.Context) {
		v := s.visit(g)
		v.Problem(http.StatusNotFound, v.T("error.not_found"), "")
	})
	engine.NoMethod(func(g *gin.Context) { g.AbortWithStatus(http.StatusMethodNotAllowed) })
	return engine, nil
}

// compressed: pages and text files are; answers to a form are a line or two, and
// faces and pictures are packed already.
func compressed(g *gin.Context) bool {
	switch path.Ext(g.Request.URL.Path) {
	case ".woff2", ".png", ".jpg":
		return false
	}
	return g.Request.Method == http.MethodGet && strings.Contains(g.GetHeader("Accept-Encoding"), "gzip")
}

// observe logs each request without saying who made it or what they typed.
func (s *Site) observe(g *gin.Context) {
	began := time.Now()
	defer func() {
		if p := recover(); p != nil {
			s.Log.Error("panic", "route", g.FullPath(), "panic", fmt.Sprint(p))
			if !g.Writer.Written() {
				s.visit(g).Fail(errors.New("panic"))
			}
		}
		s.Log.Info("request", "method", g.Request.Method, "route", g.FullPath(), "status", g.Writer.Status(), "ms", float64(time.Since(began).Microseconds())/1000)
	}()
	g.Next()
}

func limit(g *gin.Context, upload bool) {
	most := int64(maxBody)
	if upload {
		most = photo.MaxUpload + maxBody
	}
	g.Request.Body = http.MaxBytesReader(g.Writer, g.Request.Body, most)
	g.Next()
}
