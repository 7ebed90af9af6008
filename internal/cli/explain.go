package cli

import (
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/report"
)

func newExplain(a *app) *cobra.Command {
	var names []string
	for _, r := range finding.Rules() {
		names = append(names, r.ID)
	}
	var schema bool
	cmd := &cobra.Command{
		Use:   "explain [RULE]",
		Short: "Say what a finding means and what sets it right",
		Long: `explain says what a rule finds, why, and what sets it right, with an example. Without a rule it
lists them. The rules are ` + strings.Join(names, ", ") + `.`,
		Example: `  crooked explain
  crooked explain homeless
  crooked explain --format markdown              the page docs/rules.md
  crooked explain --schema > crooked.schema.json    for editors that complete and check crooked.yaml`,
		Annotations: map[string]string{moreFormats: "markdown"},
		ValidArgs:   names,
		Args: func(_ *cobra.Command, args []string) error {
			switch {
			case len(args) > 1:
				return flagError{fmt.Errorf("explain takes one rule: %s", strings.Join(names, ", "))}
			case len(args) == 1 && !slices.Contains(names, args[0]):
				return flagError{fmt.Errorf("there is no rule %q; the rules are %s", args[0],
					strings.Join(names, ", "))}
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			if schema {
				_, err := a.Out.Write(convention.Schema())
				return err
			}
			rules := finding.Rules()
			if len(args) == 1 {
				rules = slices.DeleteFunc(rules, func(r finding.Rule) bool { return r.ID != args[0] })
			}
			switch a.format {
			case "json":
				return report.JSON(a.Out, rules)
			case "markdown":
				return report.RulesPage(a.Out, rules)
			}
			return report.Rules(a.Out, rules, len(args) == 1, a.style())
		},
	}
	cmd.Flags().BoolVar(&schema, "schema", false, "write the JSON Schema of crooked.yaml instead")
	return cmd
}
