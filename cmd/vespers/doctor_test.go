package main_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// TestDoctorAndDrill: in words, in both languages, with a status that tells.
func TestDoctorAndDrill(t *testing.T) {
	bin, dir := program(t), t.TempDir()
	yard, copies := filepath.Join(dir, "yard"), filepath.Join(dir, "copies")
	if out, status := output(t, bin, "doctor", "--db", yard); status != 1 || !strings.Contains(out, "There is no file") {
		t.Errorf("%d: %s", status, out)
	}
	if out, status := output(t, bin, "large-yard", "--db", yard, "--days", "1"); status != 0 {
		t.Fatalf("%d: %s", status, out)
	}
	if err := os.MkdirAll(copies, 0o700); err != nil {
		t.Fatal(err)
	}
	if out, status := output(t, bin, "doctor", "--db", yard, "--backups", copies); status != 1 || !strings.Contains(out, "There is no backup") {
		t.Errorf("%d: %s", status, out)
	}
	if out, status := output(t, bin, "drill", "--db", yard, "--backups", copies); status != 1 || !strings.Contains(out, "There is no backup of yard") {
		t.Errorf("%d: %s", status, out)
	}
	name := filepath.Join(copies, "yard-"+time.Now().UTC().Format("20060102T150405Z")+".backup")
	if out, status := output(t, bin, "backup", "--db", yard, name); status != 0 {
		t.Fatalf("%d: %s", status, out)
	}
	if out, status := output(t, bin, "doctor", "--db", yard, "--backups", copies); status != 0 || !strings.Contains(out, "each as it was written") || !strings.Contains(out, "file edition") {
		t.Errorf("%d: %s", status, out)
	}
	if out, status := output(t, bin, "--lang", "es", "drill", "--db", yard, "--backups", copies, "--in", dir); status != 0 || !strings.Contains(out, "dicen lo mismo que en el patio") {
		t.Errorf("%d: %s", status, out)
	}
	if err := os.Chmod(yard, 0o644); err != nil {
		t.Fatal(err)
	}
	if out, status := output(t, bin, "--lang", "es", "doctor", "--db", yard, "--backups", copies); status != 1 || !strings.Contains(out, "Otros en esta máquina pueden leer") {
		t.Errorf("%d: %s", status, out)
	}
}
