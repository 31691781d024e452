package plenzo.cli;

import static plenzo.cli.VersionText.ENTRY_HEADS;
import static plenzo.cli.VersionText.entries;
import static plenzo.cli.VersionText.place;

import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Drifts.ComparedSidesView;
import plenzo.api.Drifts.GroupView;
import plenzo.api.Versions.ComponentView;
import plenzo.api.Versions.ContentView;

@Command(
    name = "component",
    description = "What a source or a site holds.",
    footer = {
      "",
      "Examples:",
      "  plenzo component changed-since fares@2.3.0 --site development",
      "  plenzo component compare fares@production/north --with test"
    })
final class ComponentCommand extends Group {
  @Command(
      name = "changed-since",
      description = "Components that are new, changed or gone since a version.")
  void changedSince(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Option(names = "--site") @Nullable String site,
      @Option(
              names = "--commit",
              paramLabel = "REVISION",
              description =
                  "Branch, tag or hash in the application's repository, instead of a site.")
          @Nullable String revision,
      @Option(names = "--find") @Nullable String find,
      @Option(
              names = "--changed-since",
              paramLabel = "DAY",
              description = "Without what was changed before; 2027-01-31, or a time of that day.")
          @Nullable String changedSince,
      @Option(names = "--same", description = "Also those that are the same.") boolean same) {
    String[] v = parts(version, "fares@2.3.0");
    if ((site == null) == (revision == null)) {
      throw Failed.usage("Name either --site or --commit.");
    }
    String place = site != null ? site(site) : place(this, v[0], revision);
    List<ComponentView> all =
        api()
            .list(
                "/components"
                    + Api.query(
                        "application",
                        v[0],
                        "site",
                        place,
                        "since",
                        v[1],
                        "find",
                        find,
                        "changedSince",
                        changedSince),
                ComponentView.class);
    out()
        .list(
            "components",
            all.stream().filter(c -> same || !c.state().equals("same")).toList(),
            List.of("component", "state", "changes", "by", "changed at", "problem"),
            c ->
                List.of(
                    c.key(),
                    c.state(),
                    c.changes(),
                    c.author() == null ? "" : c.author(),
                    c.changedAt() == null ? "" : out().time(c.changedAt()),
                    c.problem()));
    if (changedSince != null && !out().json()) {
      long unknown =
          all.stream()
              .filter(c -> c.changedAt() == null && (same || !c.state().equals("same")))
              .count();
      if (unknown > 0) {
        out().note(counted(unknown, "component") + " without a time: its source tells none.");
      }
    }
  }

  @Command(
      name = "save",
      description =
          "Writes what a site or a version holds as documents, for a repository to begin with.")
  void save(
      @Parameters(paramLabel = "APPLICATION") String app,
      @Option(names = "--site") @Nullable String site,
      @Option(names = "--number", description = "Of a version.") @Nullable String number,
      @Option(names = "--to", required = true, paramLabel = "FOLDER") Path to) {
    if ((site == null) == (number == null)) {
      throw Failed.usage("Name either --site or --number.");
    }
    DocumentFolder.Unpacked files =
        DocumentFolder.unpack(
            api(),
            "/applications/"
                + Api.encode(app)
                + "/documents"
                + Api.query("site", site == null ? null : site(site), "version", number),
            to);
    out()
        .line(
            files.documents()
                + " documents are in "
                + to
                + ". Next: commit them, and name the repository.");
    files.leftOut().forEach(line -> out().note("Left out: " + line));
    if (site != null) {
      leftOut(app, site);
    }
  }

  /** What the site holds and no document can carry: named, never passed over. */
  private void leftOut(String app, String site) {
    AppCommand.candidates(this, app, site).stream()
        .filter(c -> !c.refusals().isEmpty())
        .forEach(
            c ->
                out()
                    .note(
                        "Left out: "
                            + c.component()
                            + " cannot be carried: "
                            + String.join("; ", c.refusals())));
  }

  @Command(
      name = "show",
      description = "What one component holds at a source, and what of it differs from a version.")
  void show(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Parameters(paramLabel = "KIND/NAME") String component,
      @Option(names = "--site", required = true) String site) {
    String[] v = parts(version, "fares@2.3.0");
    ContentView c =
        api()
            .get(
                "/components/content"
                    + Api.query(
                        "application",
                        v[0],
                        "site",
                        site(site),
                        "since",
                        v[1],
                        "component",
                        component),
                ContentView.class);
    if (out().json()) {
      out().document("content", c);
      return;
    }
    boolean same = c.parts().isEmpty() && c.differing().isEmpty();
    out().line(c.component() + " at " + site(site) + (same ? ", as in " : ", against ") + v[1]);
    c.parts()
        .forEach(p -> p.attributes().forEach(a -> DifferenceText.beside(out(), a, site, v[1])));
    c.differing().forEach(r -> DifferenceText.row(out(), r));
    out().line("");
    out().line(c.text() == null ? "What it holds is not shown to you." : c.text());
    if (c.cut()) {
      out().line("… it goes on: plenzo component save");
    }
  }

  @Command(name = "list", description = "All components of a version.")
  void list(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Option(names = "--find", paramLabel = "TEXT", description = "Part of the name.")
          @Nullable String find) {
    out().list("components", entries(this, version, find), ENTRY_HEADS, VersionText::entry);
  }

  @Command(
      name = "compare",
      description = {
        "What a site holds otherwise than another site, or than a version, worked out now.",
        "Rows are compared that a version recorded at either site carries."
      })
  int compare(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(
              names = "--with",
              required = true,
              paramLabel = "STAGE[/SITE]|NUMBER|DAY",
              description =
                  "Another site, a version, or a past day (YYYY-MM-DD): what was recorded there then.")
          String with,
      @Option(names = "--rows", defaultValue = "50", description = "Parts and rows to show.")
          int rows,
      @Option(names = "--export", description = "Saves all of it as CSV instead.")
          @Nullable Path export,
      @Option(names = "--fail-on-difference") boolean fail) {
    String[] p = parts(at, "fares@production");
    String other = Character.isDigit(with.charAt(0)) ? with : site(with);
    String path = "/records/" + Api.encode(p[0]) + "/" + site(p[1]) + "/compare";
    if (export != null) {
      long bytes = api().save(path + "/file" + Api.query("with", other), export);
      out().line("Saved in " + export + ", " + bytes + " bytes.");
      return 0;
    }
    ComparedSidesView c =
        api()
            .get(
                path + Api.query("with", other, "limit", String.valueOf(rows)),
                ComparedSidesView.class);
    if (out().json()) {
      out().document("comparison", c);
    } else {
      shown(c);
    }
    return fail && c.all() > 0 ? Failed.DIFFERENT : 0;
  }

  private void shown(ComparedSidesView c) {
    out()
        .line(
            c.application()
                + " at "
                + c.site()
                + ", held against "
                + c.with()
                + (c.all() == 0 ? ": nothing that Plenzo compares differs." : ":"));
    for (GroupView g : c.groups()) {
      out().line(DifferenceText.group(g));
      c.items().stream()
          .filter(l -> l.component().equals(g.component()))
          .forEach(
              l -> {
                String part = l.place().substring(l.component().length());
                out()
                    .line(
                        "  "
                            + DifferenceText.how(l.how())
                            + (part.isEmpty() ? "" : " " + part.substring(1)));
                l.attributes().forEach(a -> DifferenceText.beside(out(), a, c.with(), c.site()));
              });
    }
    if (c.items().size() < c.all()) {
      out()
          .line(
              "Of "
                  + c.all()
                  + " in all, the first "
                  + c.items().size()
                  + " are shown: --rows for more, --export for all.");
    }
  }
}
