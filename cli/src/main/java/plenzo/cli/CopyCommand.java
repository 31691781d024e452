package plenzo.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Copies.CopyEvery;
import plenzo.api.Copies.SourceCopiesView;
import plenzo.api.Copies.SourceCopyView;

@Command(
    name = "copy",
    description = {
      "Copies of what an editing stage holds, so that no source is ever lost: component documents,"
          + " with the rows of tables that versions carry.",
      "A repository keeps its own past, and is not copied."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo copy every fares 1",
      "  plenzo copy list fares",
      "  plenzo copy save fares C-3 --to fares.zip"
    })
final class CopyCommand extends Group {
  private static String path(String app) {
    return "/applications/" + Api.encode(app) + "/copies";
  }

  @Command(name = "list", description = "The copies, newest first.")
  void list(@Parameters(paramLabel = "APPLICATION") String app) {
    SourceCopiesView v = api().get(path(app), SourceCopiesView.class);
    out()
        .list(
            "copies",
            v.copies(),
            List.of("copy", "when", "of", "by", "bytes", "without"),
            c ->
                List.of(
                    c.id(),
                    out().time(c.at()),
                    c.site(),
                    c.by(),
                    String.valueOf(c.bytes()),
                    String.join(", ", c.leftOut())));
    if (!out().json()) {
      said(v);
    }
  }

  private void said(SourceCopiesView v) {
    out()
        .note(
            v.every() == 0
                ? "None is taken by itself: plenzo copy every APPLICATION DAYS."
                : "One is taken every " + (v.every() == 1 ? "day." : v.every() + " days."));
    if (!v.warning().isEmpty()) {
      out().note(v.warning());
    } else if (!v.trouble().isEmpty()) {
      out().note("The last one could not be taken: " + v.trouble());
    }
  }

  @Command(name = "every", description = "How often one is taken; 0: not by itself.")
  void every(
      @Parameters(paramLabel = "APPLICATION") String app,
      @Parameters(paramLabel = "DAYS", description = "1 to 90, or 0.") int days) {
    SourceCopiesView v = api().put(path(app), new CopyEvery(days), SourceCopiesView.class);
    if (out().json()) {
      out().document("copies", v);
    } else {
      said(v);
    }
  }

  @Command(name = "take", description = "Takes one now.")
  void take(@Parameters(paramLabel = "APPLICATION") String app) {
    SourceCopyView c = api().post(path(app), Map.of(), SourceCopyView.class);
    if (out().json()) {
      out().document("copy", c);
      return;
    }
    out().line(c.id() + " of " + app + " at " + c.site() + ", " + c.bytes() + " bytes.");
    c.leftOut().forEach(l -> out().line("  without " + l + ", which no document can carry"));
  }

  @Command(name = "save", description = "Saves one: a ZIP file of component documents.")
  void save(
      @Parameters(paramLabel = "APPLICATION") String app,
      @Parameters(paramLabel = "COPY") String id,
      @Option(names = "--to", required = true, paramLabel = "FILE") Path file) {
    long bytes = api().save(path(app) + "/" + Api.encode(id) + "/file", file);
    ReportText.saved(this, bytes, file);
  }
}
