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
import plenzo.api.Versions.ComponentView;

@Command(
    name = "component",
    description = "What a source holds.",
    footer = {"", "Examples:", "  plenzo component changed-since fares@2.3.0 --site development"})
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
      @Option(names = "--same", description = "Also those that are the same.") boolean same) {
    String[] v = parts(version, "fares@2.3.0");
    if ((site == null) == (revision == null)) {
      throw Failed.usage("Name either --site or --commit.");
    }
    String place = site != null ? site(site) : place(this, v[0], revision);
    List<ComponentView> all =
        api()
            .list(
                "/components" + Api.query("application", v[0], "site", place, "since", v[1]),
                ComponentView.class);
    out()
        .list(
            "components",
            all.stream()
                .filter(
                    c ->
                        (same || !c.state().equals("same"))
                            && (find == null || c.key().contains(find)))
                .toList(),
            List.of("component", "state", "changes", "problem"),
            c -> List.of(c.key(), c.state(), c.changes(), c.problem()));
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
    long files =
        DocumentFolder.unpack(
            api(),
            "/applications/"
                + Api.encode(app)
                + "/documents"
                + Api.query("site", site == null ? null : site(site), "version", number),
            to);
    out().line(files + " documents are in " + to + ". Next: commit them, and name the repository.");
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

  @Command(name = "list", description = "All components of a version.")
  void list(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Option(names = "--find", paramLabel = "TEXT", description = "Part of the name.")
          @Nullable String find) {
    out().list("components", entries(this, version, find), ENTRY_HEADS, VersionText::entry);
  }
}
