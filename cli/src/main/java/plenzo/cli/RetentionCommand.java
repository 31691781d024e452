package plenzo.cli;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Retentions.ClearStored;
import plenzo.api.Retentions.KeepStored;
import plenzo.api.Retentions.KeepingNote;
import plenzo.api.Retentions.RetentionPreview;
import plenzo.api.Retentions.RetentionView;
import plenzo.api.Retentions.SetRetention;
import plenzo.api.Retentions.StoredLine;

@Command(
    name = "retention",
    description = {
      "How long Plenzo's own files stay, and what keeps one whatever its age.",
      "What a way back to the last good version, an open case or a note needs stays. Sealed content,"
          + " sheets, the history and the records stay for ever."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo retention preview --days backup=90 --days log=30",
      "  plenzo retention set --days backup=365 --days log=90 --days comparison=90",
      "  plenzo retention clear",
      "  plenzo retention keep fares@2.4.0 --reason \"The harbour asks for it\" --until 2028-12-31"
    })
final class RetentionCommand extends Group {
  @Command(name = "show", description = "The rules that are set.")
  void show() {
    said(api().get("/retention", RetentionView.class));
  }

  private void said(RetentionView v) {
    if (out().json()) {
      out().document("retention", v);
    } else {
      out().line("Kept: " + v.words() + ".");
    }
  }

  @Command(
      name = "set",
      description =
          "Sets the rules; a sort that is not named is kept for ever. Nothing goes by it.")
  void set(
      @Option(
              names = "--days",
              paramLabel = "SORT=DAYS",
              description = "Sort: backup, comparison, log, package, copy, evidence. Repeatable.")
          @Nullable Map<String, Integer> days,
      @Option(
              names = "--daily",
              description = "What is old is cleared each day, without anybody asking.")
          boolean daily) {
    said(
        api()
            .put(
                "/retention",
                new SetRetention(days == null ? Map.of() : days, daily),
                RetentionView.class));
  }

  @Command(
      name = "preview",
      description = "What would go, and what stays although it is old; nothing is cleared.")
  void preview(
      @Option(
              names = "--days",
              paramLabel = "SORT=DAYS",
              description = "By these rules instead of those that are set. Repeatable.")
          @Nullable List<String> days) {
    List<String> query = new ArrayList<>();
    for (String d : days == null ? List.<String>of() : days) {
      query.add("days");
      query.add(d);
    }
    RetentionPreview p =
        api()
            .get(
                "/retention/preview" + Api.query(query.toArray(String[]::new)),
                RetentionPreview.class);
    if (out().json()) {
      out().document("retention-preview", p);
      return;
    }
    listed(p);
    out().line("By the rules: " + p.rules().words() + ".");
    out()
        .line(
            "Would go: " + p.counted() + ", " + p.bytes() + " bytes. Not old: " + p.young() + ".");
  }

  private void listed(RetentionPreview p) {
    if (!p.old().isEmpty()) {
      out()
          .table(
              List.of("what", "of", "written", "bytes", "goes", "why"),
              p.old().stream().map(this::row).toList());
    }
  }

  private List<String> row(StoredLine l) {
    return List.of(
        l.id(),
        l.of(),
        out().time(l.at()),
        String.valueOf(l.bytes()),
        l.goes() ? "goes" : "stays",
        l.why());
  }

  @Command(
      name = "clear",
      description = {
        "Clears what the rules let go, for good.",
        "Lists it first; without a terminal --yes and --expect say which list was read."
      })
  void clear() {
    RetentionPreview p = api().get("/retention/preview", RetentionPreview.class);
    if (!out().json()) {
      listed(p);
    }
    String digest = p.digest();
    if (p.old().stream().anyMatch(StoredLine::goes)) {
      digest =
          RunText.clearing(
              this, "For good: " + p.counted() + ", " + p.bytes() + " bytes.", p.digest());
    }
    RetentionPreview gone =
        api().post("/retention/clear", new ClearStored(digest), RetentionPreview.class);
    if (out().json()) {
      out().document("retention-cleared", gone);
    } else {
      out().line("Cleared: " + gone.counted() + ", " + gone.bytes() + " bytes.");
    }
  }

  @Command(name = "notes", description = "What stays by a note.")
  void notes() {
    out()
        .list(
            "notes",
            api().list("/retention/notes", KeepingNote.class),
            List.of("what", "until", "by", "when", "why"),
            n ->
                List.of(
                    n.subject(),
                    n.until() == null ? "for ever" : n.until().toString(),
                    n.by(),
                    out().time(n.at()),
                    n.reason()));
  }

  @Command(name = "keep", description = "Keeps all that is stored of something, however old.")
  void keep(
      @Parameters(
              paramLabel = "WHAT",
              description =
                  "A run (R-7), a promotion (P-15), a package (K-1), a copy (C-3), a file of"
                      + " evidence (E-2) or a version (fares@2.4.0).")
          String subject,
      @Option(names = "--reason", required = true) String reason,
      @Option(names = "--until", paramLabel = "DAY", description = "The last day; else for ever.")
          @Nullable LocalDate until) {
    KeepingNote n =
        api().put("/retention/notes", new KeepStored(subject, reason, until), KeepingNote.class);
    if (out().json()) {
      out().document("note", n);
    } else {
      out()
          .line(
              "All that is stored of "
                  + n.subject()
                  + " stays"
                  + (n.until() == null ? " for ever." : " until " + n.until() + "."));
    }
  }

  @Command(name = "let-go", description = "Ends a note: what it kept goes when it is old.")
  void letGo(@Parameters(paramLabel = "WHAT") String subject) {
    api().delete("/retention/notes" + Api.query("subject", subject), Void.class);
    if (!out().json()) {
      out().line("No note keeps " + subject + " any more.");
    }
  }
}
