// Vespers: pre-use inspection of grounds machines, from cold to cleared.
package main

import (
	"errors"
	"fmt"
	"os"
	"runtime/debug"
	"strings"

	"github.com/alecthomas/kong"

	"vespers/core/text"
	"vespers/core/unit"
	"vespers/say"
)

// commands is everything the program can be told on its command line.
type commands struct {
	Lang    string           `help:"Language of messages: en or es." enum:"en,es" default:"en"`
	Version kong.VersionFlag `help:"Print the version."`

	Serve     serveCommand     `cmd:"" help:"Run a yard."`
	Demo      demoCommand      `cmd:"" help:"Run the demo yard, Wrenfield."`
	Backup    backupCommand    `cmd:"" help:"Write the whole yard to a new file, also while it is in use."`
	Restore   restoreCommand   `cmd:"" help:"Put a backup in the place of a yard."`
	Export    exportCommand    `cmd:"" help:"Take the whole yard away as JSON Lines."`
	Import    importCommand    `cmd:"" help:"Make a yard of exported lines, in a new file."`
	Verify    verifyCommand    `cmd:"" help:"Check the chain of records."`
	Drill     drillCommand     `cmd:"" help:"Restore the newest backup elsewhere, and say what it is worth."`
	Doctor    doctorCommand    `cmd:"" help:"How a yard is: file, records, clock, disk, backups, versions."`
	Rebuild   rebuildCommand   `cmd:"" help:"Make every projection anew from the records."`
	Sheet     sheetCommands    `cmd:"" help:"Machine sheets."`
	Walk      walkCommand      `cmd:"" help:"Walk-around planning."`
	Interlock interlockCommand `cmd:"" help:"Interlock tests: the smallest round, what another covers, what is wrong."`
	Procedure procedureCommand `cmd:"" help:"Procedures: that none does harm, and what is to be done."`
	Grade     gradeCommand     `cmd:"" help:"What findings make of a machine: grade, deadline, restrictions, planned uses."`
	Evening   eveningCommand   `cmd:"" help:"The close of a day: who does what when."`
	Fuel      fuelCommand      `cmd:"" help:"Fuel: what a day needs, what goes into a mix."`
	Ground    groundCommand    `cmd:"" help:"Ground: slopes, ramps, bridges, trailers, straps."`
	LargeYard largeYardCommand `cmd:"" name:"large-yard" help:"Generate a large yard for measuring."`
}

func main() {
	var c commands
	parser := kong.Must(&c, kong.Name("vespers"), kong.Description("Inspection, interlocks and release of grounds machines."), kong.Vars{"version": version()})
	k, err := parser.Parse(os.Args[1:])
	if err != nil {
		fmt.Fprintf(os.Stderr, "vespers: %v\nTry: vespers --help\n", err)
		os.Exit(wrongUse)
	}
	err = k.Run(say.NewVoice(text.Language(c.Lang), unit.Metric, nil))
	var status exit
	switch {
	case errors.As(err, &status):
		os.Exit(int(status))
	case err != nil:
		fmt.Fprintln(os.Stderr, "vespers:", err)
		os.Exit(1)
	}
}

// wrongUse is the status of a command line that cannot be read.
const wrongUse = 2

// version is that of the source it was built from, as far as that is known.
func version() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "vespers, unknown version"
	}
	out := "vespers " + info.Main.Version
	for _, s := range info.Settings {
		if s.Key == "vcs.time" || s.Key == "vcs.modified" && s.Value == "true" {
			out += " " + strings.NewReplacer("true", "(changed since)").Replace(s.Value)
		}
	}
	return out
}

// exit ends the program with a status, the message having been printed.
type exit int

func (e exit) Error() string { return fmt.Sprintf("exit status %d", int(e)) }
