package plenzo.cli;

import java.util.Arrays;
import java.util.List;
import picocli.CommandLine;
import picocli.CommandLine.Help;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.UsageMessageSpec;

/**
 * The help of a command shows its own options; those that every command takes are listed once, by
 * {@code plenzo --help}, and named in one line elsewhere.
 */
final class HelpText {
  private static final List<String> COMMON = List.of("--help", "--version");

  private HelpText() {}

  static void shape(CommandLine line) {
    var sections = line.getHelpSectionMap();
    sections.put(
        UsageMessageSpec.SECTION_KEY_SYNOPSIS,
        help -> isTop(help) ? top(help) : own(help).synopsis(7)); // after "Usage: "
    sections.put(
        UsageMessageSpec.SECTION_KEY_OPTION_LIST,
        help ->
            isTop(help)
                ? help.optionList()
                : own(help).optionList()
                    + help.createHeading(
                        "%nAlso --json, --limit, --all, --wait and more, see plenzo --help.%n"));
    sections.put(UsageMessageSpec.SECTION_KEY_FOOTER, help -> footer(help.commandSpec()));
    line.setHelpSectionMap(sections);
  }

  /** A command without examples of its own shows those of its group. */
  private static String footer(CommandSpec spec) {
    CommandSpec shown = spec;
    while (shown.parent() != null
        && shown.parent().parent() != null
        && Arrays.equals(shown.usageMessage().footer(), spec.root().usageMessage().footer())) {
      shown = shown.parent();
    }
    String line = System.lineSeparator();
    return String.join(line, shown.usageMessage().footer()) + line;
  }

  private static boolean isTop(Help help) {
    return help.commandSpec().parent() == null;
  }

  private static String top(Help help) {
    return help.commandSpec().name() + " [OPTIONS] COMMAND" + System.lineSeparator();
  }

  /** The same command with nothing but what belongs to it alone. */
  private static Help own(Help help) {
    CommandSpec spec = help.commandSpec();
    CommandSpec own = CommandSpec.create().name(spec.qualifiedName());
    own.usageMessage().width(spec.usageMessage().width());
    for (OptionSpec o : spec.options()) {
      if (!o.inherited() && !COMMON.contains(o.longestName())) {
        own.addOption(OptionSpec.builder(o).build());
      }
    }
    spec.positionalParameters()
        .forEach(p -> own.addPositional(CommandLine.Model.PositionalParamSpec.builder(p).build()));
    if (!spec.subcommands().isEmpty()) {
      own.usageMessage().customSynopsis(spec.qualifiedName() + " COMMAND");
    }
    return new Help(own, help.colorScheme());
  }
}
