package plenzo.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.api.Records.ReportSection;
import plenzo.api.Records.WholeRecord;

/** A document of facts and tables at the terminal, or saved to a file. */
final class ReportText {
  private ReportText() {}

  /**
   * Saves it where a file is named, by the ending of its name, and shows it else.
   *
   * @param path of the document in the API
   * @param query behind it, with its question mark; empty for none
   */
  static void give(Group group, String path, String query, @Nullable Path to) {
    if (to == null) {
      show(group, group.api().get(path + query, WholeRecord.class));
      return;
    }
    String name = String.valueOf(to.getFileName()).toLowerCase(Locale.ROOT);
    String form = name.endsWith(".html") ? "html" : name.endsWith(".md") ? "md" : "";
    if (form.isEmpty()) {
      throw Failed.usage("Name a file that ends in .md or .html; got \"" + to + "\".");
    }
    saved(group, group.api().save(path + "/" + form + query, to), to);
  }

  static void saved(Group group, long bytes, Path to) {
    if (group.out().json()) {
      group.out().document("saved", java.util.Map.of("file", to.toString(), "bytes", bytes));
    } else {
      group.out().line("Saved to " + to + ", " + bytes + " bytes.");
    }
  }

  private static void show(Group group, WholeRecord r) {
    Out out = group.out();
    if (out.json()) {
      out.document("report", r);
      return;
    }
    out.line(r.title());
    out.line("Made " + out.time(r.made()));
    for (ReportSection s : r.sections()) {
      out.line("");
      out.line(s.heading());
      s.text().lines().forEach(l -> out.line("  " + l));
      s.facts().forEach(f -> out.line("  " + f.name() + ": " + f.value()));
      if (!s.heads().isEmpty()) {
        out.line("  " + String.join("  |  ", s.heads()));
        s.rows().forEach(row -> out.line("  " + line(row)));
      }
    }
  }

  private static String line(List<String> cells) {
    return String.join("  |  ", cells.stream().map(c -> c.replace('\n', ' ')).toList());
  }
}
