package say

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
)

// TestOneWordForOneThing: in Spanish an engine that turns over "da vuelta" and
// one that fires up "enciende"; what is latched "queda asegurado" and what is
// stuck "se atora". Words that mean both are used for neither.
func TestOneWordForOneThing(t *testing.T) {
	data, err := os.ReadFile("es.yaml")
	if err != nil {
		t.Fatal(err)
	}
	both := regexp.MustCompile(`(?i)\btrab(a|ada|adas|ado|ados|an|ar|e)\b`)
	crank := regexp.MustCompile(`(?i)\b(arranc\w*|gir[óa]|giró|prend\w*)\b`)
	tested := regexp.MustCompile(`^(round\.|test\.|find\.(bad|good)\.|help\.seen\.|bench\.(key|refused)|rule\.test\.|rule\.release\.round)`)
	for n, line := range strings.Split(string(data), "\n") {
		key, words, _ := strings.Cut(line, ":")
		if m := both.FindString(words); m != "" {
			t.Errorf("es.yaml:%d: %q is latched and stuck", n+1, m)
		}
		if m := crank.FindString(words); m != "" && tested.MatchString(key) && key != "round.turn_key" && key != "round.turn_key_moment" {
			t.Errorf("es.yaml:%d: %s: %q is turning over and firing up", n+1, key, m)
		}
	}
	for _, pattern := range []string{"../catalogue/sheets/*.yaml", "../catalogue/kits/*.yaml"} {
		files, _ := filepath.Glob(pattern)
		for _, file := range files {
			data, err := os.ReadFile(file)
			if err != nil {
				t.Fatal(err)
			}
			if m := both.FindString(string(data)); m != "" {
				t.Errorf("%s: %q is latched and stuck", file, m)
			}
		}
	}
}
