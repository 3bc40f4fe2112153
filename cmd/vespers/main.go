// Vespers: pre-use inspection of grounds machines, from cold to cleared.
package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/alecthomas/kong"

	"vespers/core/text"
	"vespers/core/unit"
	"vespers/say"
)

// commands is everything the program can be told on its command line.
type commands struct {
	Lang string `help:"Language of messages: en or es." enum:"en,es" default:"en"`

	Serve     serveCommand     `cmd:"" help:"Run a yard."`
	Demo      demoCommand      `cmd:"" help:"Run the demo yard, Wrenfield."`
	Backup    backupCommand    `cmd:"" help:"Write the whole yard to a new file, also while it is in use."`
	Restore   restoreCommand   `cmd:"" help:"Put a backup in the place of a yard."`
	Verify    verifyCommand    `cmd:"" help:"Check the chain of records."`
	Rebuild   rebuildCommand   `cmd:"" help:"Make every projection anew from the records."`
	Sheet     sheetCommands    `cmd:"" help:"Machine sheets."`
	Walk      walkCommand      `cmd:"" help:"Walk-around planning."`
	Interlock interlockCommand `cmd:"" help:"Interlock tests: the smallest round, what another covers, what is wrong."`
	LargeYard largeYardCommand `cmd:"" name:"large-yard" help:"Generate a large yard for measuring."`
}

func main() {
	var c commands
	k := kong.Parse(&c, kong.Name("vespers"), kong.Description("Inspection, interlocks and release of grounds machines."), kong.UsageOnError())
	err := k.Run(say.NewVoice(text.Language(c.Lang), unit.Metric, nil))
	var status exit
	switch {
	case errors.As(err, &status):
		os.Exit(int(status))
	case err != nil:
		fmt.Fprintln(os.Stderr, "vespers:", err)
		os.Exit(1)
	}
}

// exit ends the program with a status, the message having been printed.
type exit int

func (e exit) Error() string { return fmt.Sprintf("exit status %d", int(e)) }
