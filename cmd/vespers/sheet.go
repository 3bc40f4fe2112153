package main

// The commands for people who write sheets: check, show, schema.

import (
	"context"
	"errors"
	"fmt"
	"os"
	"strings"

	"vespers/catalogue"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/say"
	"vespers/store"
)

type sheetCommands struct {
	Check   sheetCheck   `cmd:"" help:"Check sheet files: file, line, what is wrong and what would be right."`
	Draw    sheetDraw    `cmd:"" help:"Draw sheets as they look in the yard and on the walk."`
	Kits    sheetKits    `cmd:"" help:"Say what each kit brings to a sheet, and what it demands of it."`
	Resolve sheetResolve `cmd:"" help:"Print a sheet as it is computed with: kits flattened, options applied."`
	Add     sheetAdd     `cmd:"" help:"Add a sheet, or a new edition of one, to a yard."`
	Schema  sheetSchema  `cmd:"" help:"Print the JSON Schema of a resolved sheet."`
	Table   sheetTable   `cmd:"" help:"Print what each sheet holds, as docs/machines.md has it."`
}

// options are ways of a sheet's options on the command line.
type options struct {
	Option map[string]string `help:"How an option stands: NAME=CHOICE, as often as wanted." placeholder:"NAME=CHOICE"`
}

// usable reads a sheet file, for the ways of its options that are chosen; one
// that cannot be used, or has them not, gives exit status 2.
func usable(v *say.Voice, file string, chosen machine.Chosen) (*machine.Sheet, error) {
	sheet, problems, err := catalogue.CheckFile(file)
	if err != nil {
		return nil, err
	}
	unknown := 0
	if sheet != nil {
		wrong := catalogue.UnknownOptions(file, chosen, sheet)
		problems, unknown = append(problems, wrong...), len(wrong)
	}
	if report(v, problems); sheet == nil || unknown > 0 {
		return nil, exit(2)
	}
	return sheet, nil
}

type sheetCheck struct {
	Files []string `arg:"" name:"file" help:"Sheet files."`
}

// Run checks files and fails if one cannot be used.
func (c *sheetCheck) Run(v *say.Voice) error {
	bad := false
	for _, file := range c.Files {
		sheet, problems, err := catalogue.ProveFile(file)
		if err != nil {
			return err
		}
		report(v, problems)
		if sheet == nil {
			bad = true
			continue
		}
		r, err := catalogue.Resolve(sheet)
		if err != nil {
			return err
		}
		fmt.Printf("%s: %s %s, %d points, %s\n", file, sheet.ID, sheet.Edition, len(sheet.Checks), r.Hash)
	}
	if bad {
		return exit(2)
	}
	return nil
}

func report(v *say.Voice, problems []catalogue.Problem) {
	for _, p := range problems {
		kind := "error"
		if p.Warning {
			kind = "warning"
		}
		field := ""
		if p.Field != "" {
			field = p.Field + ": "
		}
		fmt.Fprintf(os.Stderr, "%s:%d: %s: %s%s [%s]\n", p.File, p.Line, kind, field, v.Reason(p.Reason), p.Reason.Rule)
	}
}

type sheetSchema struct{}

// Run prints the schema.
func (sheetSchema) Run() error {
	_, err := os.Stdout.Write(catalogue.Schema())
	return err
}

type sheetKits struct {
	Name string `arg:"" optional:"" help:"One kit; left out, all of them."`
}

// Run lists kits. A name that is none gives exit status 2.
func (c *sheetKits) Run() error {
	kits, err := catalogue.Kits()
	if err != nil {
		return err
	}
	var known []string
	shown := false
	for _, k := range kits {
		if known = append(known, k.Name); c.Name != "" && c.Name != k.Name {
			continue
		}
		shown = true
		fmt.Println(k.Name)
		for _, s := range k.Brings {
			fmt.Printf("  brings %s: %s\n", s.Name, strings.Join(s.IDs, ", "))
		}
		for _, s := range k.Demands {
			fmt.Printf("  demands %s: %s\n", s.Name, strings.Join(s.IDs, ", "))
		}
	}
	if !shown {
		fmt.Fprintf(os.Stderr, "There is no kit %q. There are: %s\n", c.Name, strings.Join(known, ", "))
		return exit(2)
	}
	return nil
}

type sheetResolve struct {
	Sheet string `arg:"" help:"A sheet file." type:"existingfile"`
	options
}

// Run prints the sheet as YAML.
func (c *sheetResolve) Run(v *say.Voice) error {
	sheet, err := usable(v, c.Sheet, c.Option)
	if err != nil {
		return err
	}
	out, err := catalogue.YAML(sheet, c.Option)
	if err != nil {
		return err
	}
	_, err = os.Stdout.Write(out)
	return err
}

type sheetAdd struct {
	DB    string `help:"The yard's file." required:"" type:"existingfile"`
	Sheet string `arg:"" help:"A sheet file." type:"existingfile"`
}

// Run checks a sheet and puts it beside those that the yard has; machines adopt
// it when a lead says so.
func (c *sheetAdd) Run(v *say.Voice) error {
	sheet, problems, err := catalogue.ProveFile(c.Sheet)
	if err != nil {
		return err
	}
	if report(v, problems); sheet == nil {
		return exit(2)
	}
	r, err := catalogue.Resolve(sheet)
	if err != nil {
		return err
	}
	s, err := store.Open(context.Background(), c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	if err := s.OfferSheet(context.Background(), r); err != nil {
		var refused *record.Refused
		if errors.As(err, &refused) {
			return errors.New(v.Reason(refused.Reason))
		}
		return err
	}
	fmt.Printf("%s %s is in %s as %s\n", sheet.ID, sheet.Edition, c.DB, r.Hash)
	return nil
}
