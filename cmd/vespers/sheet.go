package main

// The commands for people who write sheets: check, show, schema.

import (
	"fmt"
	"os"

	"vespers/catalogue"
	"vespers/say"
)

type sheetCommands struct {
	Check  sheetCheck  `cmd:"" help:"Check sheet files: file, line, what is wrong and what would be right."`
	Draw   sheetDraw   `cmd:"" help:"Draw sheets as they look in the yard and on the walk."`
	Schema sheetSchema `cmd:"" help:"Print the JSON Schema of a resolved sheet."`
}

type sheetCheck struct {
	Files []string `arg:"" name:"file" help:"Sheet files."`
}

// Run checks files and fails if one cannot be used.
func (c *sheetCheck) Run(v *say.Voice) error {
	bad := false
	for _, file := range c.Files {
		sheet, problems, err := catalogue.CheckFile(file)
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
		fmt.Fprintf(os.Stderr, "%s:%d: %s: %s [%s]\n", p.File, p.Line, kind, v.Reason(p.Reason), p.Reason.Rule)
	}
}

type sheetSchema struct{}

// Run prints the schema.
func (sheetSchema) Run() error {
	_, err := os.Stdout.Write(catalogue.Schema())
	return err
}
