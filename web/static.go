package web

// Styles, scripts and fonts, under a name that changes with them.

import (
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
)

//go:embed static
var staticFiles embed.FS

// assets are the files that ship with the program. Their address holds a hash
// of them all, so that a browser may keep them for good.
type assets struct {
	prefix string // "/static/HASH"
	files  map[string][]byte
}

func loadAssets() (*assets, error) {
	a := &assets{files: map[string][]byte{}}
	h := sha256.New()
	err := fs.WalkDir(staticFiles, "static", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := staticFiles.ReadFile(name)
		if err != nil {
			return err
		}
		h.Write([]byte(name))
		h.Write(data)
		// The style sheets are one file to the browser, in the order of their
		// names.
		if strings.HasPrefix(name, "static/styles/") {
			a.files["app.css"] = append(a.files["app.css"], data...)
			return nil
		}
		a.files[strings.TrimPrefix(name, "static/")] = data
		return nil
	})
	a.prefix = "/static/" + hex.EncodeToString(h.Sum(nil)[:6])
	return a, err
}

// serve sends a file of the program.
func (a *assets) serve(w http.ResponseWriter, r *http.Request) {
	name := strings.TrimPrefix(r.URL.Path, "/static/")
	if _, after, ok := strings.Cut(name, "/"); ok {
		name = after // its address begins with the hash of them all
	}
	data, ok := a.files[name]
	if !ok {
		w.WriteHeader(http.StatusNotFound)
		return
	}
	kind := mime.TypeByExtension(path.Ext(name))
	switch path.Ext(name) { // what the system does not know
	case ".woff2":
		kind = "font/woff2"
	case ".webmanifest":
		kind = "application/manifest+json"
	}
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
	w.Write(data)
}
