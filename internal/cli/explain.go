package cli

import (
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"crookedshelf/internal/finding"
	"crookedshelf/internal/report"
)

func newExplain(a *app) *cobra.Command {
	var names []string
	for _, r := range finding.Rules() {
		names = append(names, r.ID)
	}
	return &cobra.Command{
		Use:   "explain [RULE]",
		Short: "Tell what a finding means and what sets it right",
		Long: `explain tells of a rule what it finds, why, and what sets it right, with an example. Without a rule it lists them. The rules
are ` + strings.Join(names, ", ") + `.`,
		Example: `  crooked explain
  crooked explain homeless`,
		ValidArgs: names,
		Args: func(_ *cobra.Command, args []string) error {
			switch {
			case len(args) > 1:
				return flagError{fmt.Errorf("explain takes one rule: %s", strings.Join(names, ", "))}
			case len(args) == 1 && !slices.Contains(names, args[0]):
				return flagError{fmt.Errorf("there is no rule %q; the rules are %s", args[0], strings.Join(names, ", "))}
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			rules := finding.Rules()
			if len(args) == 1 {
				rules = slices.DeleteFunc(rules, func(r finding.Rule) bool { return r.ID != args[0] })
			}
			if a.format == "json" {
				return report.JSON(a.Out, rules)
			}
			return report.Rules(a.Out, rules, len(args) == 1, a.style())
		},
	}
}
