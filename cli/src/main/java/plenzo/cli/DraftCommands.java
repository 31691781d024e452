package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.RowPage;
import plenzo.api.Stages.PickView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Versions.AddToDraft;
import plenzo.api.Versions.CommitView;
import plenzo.api.Versions.ComponentView;
import plenzo.api.Versions.DraftView;
import plenzo.api.Versions.DropFromDraft;
import plenzo.api.Versions.EntryPage;
import plenzo.api.Versions.EntryView;
import plenzo.api.Versions.MoveInDraft;
import plenzo.api.Versions.NewDraft;
import plenzo.api.Versions.Reason;
import plenzo.api.Versions.Removals;
import plenzo.api.Versions.Seal;
import plenzo.api.Versions.Verdict;
import plenzo.api.Versions.VersionView;

/** Components at a source, drafts, versions. */
final class DraftCommands {
  private DraftCommands() {}

  /** A commit as a place that content comes from. */
  static String place(Group group, String application, @Nullable String revision) {
    CommitView c =
        group
            .api()
            .get(
                "/applications/"
                    + Api.encode(application)
                    + "/commit"
                    + Api.query("revision", revision),
                CommitView.class);
    if (!group.out().json()) {
      group
          .out()
          .note("Commit " + c.hash().substring(0, 12) + " by " + c.author() + ": " + c.message());
    }
    return "git/" + c.hash();
  }

  @Command(
      name = "component",
      description = "What a source holds.",
      footer = {"", "Examples:", "  plenzo component changed-since fares@2.3.0 --site development"})
  static final class Component extends Group {
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
      out()
          .line(
              files + " documents are in " + to + ". Next: commit them, and name the repository.");
    }

    @Command(name = "list", description = "All components of a version.")
    void list(
        @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
        @Option(names = "--find", paramLabel = "TEXT", description = "Part of the name.")
            @Nullable String find) {
      out().list("components", entries(this, version, find), ENTRY_HEADS, DraftCommands::entry);
    }
  }

  /** As many components as a version shows with its facts. */
  private static final int SHOWN = 100;

  private static final List<String> ENTRY_HEADS = List.of("component", "rows", "digest", "from");

  private static String components(String version) {
    String[] v = Group.parts(version, "fares@2.3.0");
    return "/versions/" + Api.encode(v[0]) + "/" + Api.encode(v[1]) + "/components";
  }

  private static List<String> entry(EntryView e) {
    String rows = e.key().startsWith("records/") ? String.valueOf(e.rows()) : "";
    return List.of(e.key(), rows, e.digest().substring(0, 12), e.origin());
  }

  private static List<EntryView> entries(Group group, String version, @Nullable String find) {
    List<EntryView> out = new ArrayList<>();
    String cursor = null;
    do {
      EntryPage page =
          group
              .api()
              .get(
                  components(version) + Api.query("limit", "10000", "cursor", cursor, "find", find),
                  EntryPage.class);
      out.addAll(page.items());
      cursor = page.next();
    } while (cursor != null);
    return out;
  }

  @Command(
      name = "draft",
      description = "An editable selection that becomes the next version.",
      footer = {
        "",
        "Examples:",
        "  plenzo draft new fares",
        "  plenzo draft add D-3 records/fares.concession --site development",
        "  plenzo draft check D-3",
        "  plenzo draft seal D-3 --number 2.4.0 --title \"Summer fares\""
      })
  static final class Draft extends Group {
    @Command(name = "list", description = "All drafts.")
    void list(@Option(names = "--app") @Nullable String app) {
      out()
          .list(
              "drafts",
              api().list("/drafts" + Api.query("application", app), DraftView.class),
              List.of("draft", "application", "from", "state", "picks", "author"),
              d ->
                  List.of(
                      d.id(),
                      d.application(),
                      d.from(),
                      d.state(),
                      String.valueOf(d.picks().size()),
                      d.author()));
    }

    @Command(
        name = "new",
        description = "Begins one from a version; from the newest when none is named.")
    void make(
        @Parameters(paramLabel = "APPLICATION") String app,
        @Option(names = "--from", paramLabel = "NUMBER") @Nullable String from) {
      show(api().post("/drafts", new NewDraft(app, from), DraftView.class));
    }

    @Command(name = "show", description = "What it holds and what stands in the way.")
    void show(@Parameters(paramLabel = "DRAFT") String id) {
      show(api().get("/drafts/" + Api.encode(id), DraftView.class));
    }

    @Command(name = "add", description = "Takes components from a site, with what they need.")
    void add(
        @Parameters(paramLabel = "DRAFT") String id,
        @Parameters(paramLabel = "COMPONENT", arity = "0..*") @Nullable List<String> components,
        @Option(names = "--site", description = "Where the content comes from.")
            @Nullable String site,
        @Option(
                names = "--commit",
                paramLabel = "REVISION",
                description =
                    "Branch, tag or hash in the application's repository, instead of a site.")
            @Nullable String revision,
        @Option(names = "--everything", description = "Everything that is new or changed there.")
            boolean everything,
        @Option(names = "--file", description = "Component names, one a line.")
            @Nullable Path file) {
      if ((site == null) == (revision == null)) {
        throw Failed.usage("Name either --site or --commit.");
      }
      List<PickView> picks = new ArrayList<>();
      DraftView draft = api().get("/drafts/" + Api.encode(id), DraftView.class);
      String from = site != null ? site(site) : place(this, draft.application(), revision);
      if (everything) {
        api()
            .list(
                "/components"
                    + Api.query(
                        "application", draft.application(), "site", from, "since", draft.from()),
                ComponentView.class)
            .stream()
            .filter(c -> c.state().equals("new") || c.state().equals("changed"))
            .filter(c -> c.problem().isEmpty())
            .forEach(c -> picks.add(SetupCommands.pick(c.key())));
      }
      for (String c : components == null ? List.<String>of() : components) {
        picks.add(SetupCommands.pick(c));
      }
      if (file != null) {
        try {
          Files.readAllLines(file).stream()
              .map(String::strip)
              .filter(l -> !l.isEmpty() && !l.startsWith("#"))
              .forEach(l -> picks.add(SetupCommands.pick(l)));
        } catch (IOException e) {
          throw Failed.usage("The file " + file + " cannot be read.");
        }
      }
      if (picks.isEmpty()) {
        throw Failed.usage(
            "Name components, or a file of them.", "plenzo component changed-since …");
      }
      show(
          api()
              .post(
                  "/drafts/" + Api.encode(id) + "/add",
                  new AddToDraft(from, picks),
                  DraftView.class));
    }

    @Command(
        name = "remove",
        description = "Drops a component from the draft; it stays as in the version drafted from.")
    void remove(
        @Parameters(paramLabel = "DRAFT") String id,
        @Parameters(paramLabel = "COMPONENT") String component) {
      show(
          api()
              .post(
                  "/drafts/" + Api.encode(id) + "/drop",
                  new DropFromDraft(component),
                  DraftView.class));
    }

    @Command(
        name = "take-away",
        description =
            "Ticks what is gone at the source and goes from the stages too; the rest is left.")
    void takeAway(
        @Parameters(paramLabel = "DRAFT") String id,
        @Parameters(paramLabel = "REMOVAL", arity = "0..*") @Nullable List<String> removals,
        @Option(names = "--all-gone") boolean all) {
      List<String> ticked =
          all
              ? api().get("/drafts/" + Api.encode(id), DraftView.class).gone()
              : removals == null ? List.of() : removals;
      show(
          api()
              .post(
                  "/drafts/" + Api.encode(id) + "/removals",
                  new Removals(ticked),
                  DraftView.class));
    }

    @Command(
        name = "selection",
        description = "Prints the picks, one a line, as a file that \"draft add --file\" takes.")
    void selection(@Parameters(paramLabel = "DRAFT") String id) {
      DraftView d = api().get("/drafts/" + Api.encode(id), DraftView.class);
      d.picks().stream().filter(p -> p.reason().equals("chosen")).forEach(p -> out().line(p.key()));
    }

    @Command(
        name = "check",
        description =
            "Reads every pick anew and says what stands in the way. Exit code 7 when something does.")
    int check(@Parameters(paramLabel = "DRAFT") String id) {
      DraftView d =
          api().post("/drafts/" + Api.encode(id) + "/check", java.util.Map.of(), DraftView.class);
      show(d);
      return d.problems().isEmpty() ? 0 : Failed.STOPPED;
    }

    @Command(
        name = "move",
        description = "Writes one component before another, within what needs allow.",
        footer = {
          "",
          "Examples:",
          "  plenzo draft move D-3 table/fares.zone --before table/fares.concession"
        })
    void move(
        @Parameters(paramLabel = "DRAFT") String id,
        @Parameters(paramLabel = "COMPONENT") String component,
        @Option(names = "--before", required = true, paramLabel = "COMPONENT") String before) {
      show(
          api()
              .post(
                  "/drafts/" + Api.encode(id) + "/move",
                  new MoveInDraft(component, before),
                  DraftView.class));
    }

    @Command(name = "seal", description = "Makes it a version that never changes.")
    void seal(
        @Parameters(paramLabel = "DRAFT") String id,
        @Option(names = "--number", required = true) String number,
        @Option(names = "--title", required = true) String title,
        @Option(names = "--notes", defaultValue = "") String notes,
        @Option(
                names = "--needs",
                paramLabel = "\"APPLICATION RANGE\"",
                description =
                    "What must be at the same site, such as \"sailings >=1.8.0 <3.0.0\" or \"server/database >=15.0.0\"; the whole list.")
            @Nullable List<String> needs,
        @Option(
                names = "--task",
                paramLabel = "REFERENCE",
                description =
                    "What it was done for: a word such as FERRY-118, or an https address.")
            @Nullable List<String> tasks) {
      VersionView v =
          api()
              .post(
                  "/drafts/" + Api.encode(id) + "/seal",
                  new Seal(number, title, notes, needs, tasks),
                  VersionView.class);
      if (out().json()) {
        out().document("version", v);
        return;
      }
      out()
          .line(
              "Sealed "
                  + v.application()
                  + "@"
                  + v.number()
                  + " \""
                  + v.title()
                  + "\": "
                  + counted(v.kinds())
                  + ", "
                  + counted(v.removals().size(), "removal")
                  + ", digest "
                  + v.digest().substring(0, 12)
                  + ".");
    }

    @Command(name = "discard", description = "Throws it away.")
    void discard(@Parameters(paramLabel = "DRAFT") String id) {
      api().delete("/drafts/" + Api.encode(id), DraftView.class);
      out().line(id + " is discarded.");
    }

    private void show(DraftView d) {
      if (out().json()) {
        out().document("draft", d);
        return;
      }
      out()
          .facts(
              "Draft",
              d.id() + " of " + d.application() + ", from " + d.from(),
              "State",
              d.state(),
              "Author",
              d.author(),
              "Next number",
              d.proposedNumber());
      if (!d.picks().isEmpty()) {
        out().line("");
        out()
            .table(
                List.of("component", "from", "why", "changes"),
                d.picks().stream()
                    .map(
                        p ->
                            List.of(
                                p.key(),
                                p.site(),
                                p.reason(),
                                p.changes().isEmpty() && !p.read() ? "not read yet" : p.changes()))
                    .toList());
      }
      section(
          "Gone at the source since " + d.from() + " (ticked = taken away at the stages)",
          d.gone().stream().map(g -> (d.removals().contains(g) ? "[x] " : "[ ] ") + g).toList());
      section("Changed and not picked", d.leftBehind());
      section("Of what the source holds", d.coverage());
      if (!d.order().isEmpty() && d.order().size() > 1) {
        section("Written in this order", numbered(d.order()));
      }
      section("Moved by hand", d.moved());
      section("Need one another, and are written together", d.cycles());
      if (!d.findings().isEmpty()) {
        out().line("");
        d.findings()
            .forEach(
                f ->
                    out()
                        .line(
                            out().state(f.severity())
                                + " "
                                + f.rule()
                                + ": "
                                + f.sentence()
                                + (f.advice().isEmpty() ? "" : "  Next: " + f.advice() + ".")));
      }
    }

    /** Long orders are cut; the whole stands in the JSON. */
    private static List<String> numbered(List<String> order) {
      List<String> out = new ArrayList<>();
      for (int n = 0; n < Math.min(order.size(), 30); n++) {
        out.add((n + 1) + ". " + order.get(n));
      }
      if (order.size() > 30) {
        out.add("… " + (order.size() - 30) + " more");
      }
      return out;
    }

    private void section(String title, List<String> lines) {
      if (!lines.isEmpty()) {
        out().line("");
        out().line(title + ":");
        lines.forEach(l -> out().line("  " + l));
      }
    }
  }

  @Command(
      name = "version",
      description = "Sealed versions.",
      footer = {
        "",
        "Examples:",
        "  plenzo version list fares",
        "  plenzo version verdict fares@2.4.0 --site test --good --reason \"Fares of 3 crossings checked\""
      })
  static final class VersionCommand extends Group {
    @Command(name = "list", description = "All versions of an application, newest first.")
    void list(@Parameters(paramLabel = "APPLICATION") String app) {
      out()
          .list(
              "versions",
              api().list("/versions" + Api.query("application", app), VersionView.class),
              List.of("version", "from", "title", "author", "sealed", "present at"),
              v ->
                  List.of(
                      v.application() + "@" + v.number(),
                      v.parent() == null ? "" : v.parent(),
                      v.title() + (v.withdrawn() ? " (withdrawn)" : ""),
                      v.author(),
                      out().time(v.sealedAt()),
                      String.join(
                          ", ",
                          v.presentAt().stream()
                              .map(p -> p.site() + (p.verdict() == null ? "" : " " + p.verdict()))
                              .toList())));
    }

    @Command(name = "compare", description = "What changed from one version to another.")
    int compare(
        @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
        @Parameters(paramLabel = "NUMBER", description = "The later version.") String to,
        @Option(names = "--rows", defaultValue = "20", description = "Rows of each component.")
            int rows,
        @Option(
                names = "--fail-on-difference",
                description = "Exit code 14 when something differs.")
            boolean fail) {
      String[] p = parts(version, "fares@2.4.0");
      String path =
          "/versions/" + Api.encode(p[0]) + "/" + Api.encode(p[1]) + "/compare/" + Api.encode(to);
      List<ComponentChange> all = api().list(path, ComponentChange.class);
      if (out().json()) {
        out().document("version-comparison", all);
      } else {
        if (all.isEmpty()) {
          out().line(p[0] + " " + p[1] + " and " + to + " hold the same.");
        }
        for (ComponentChange c : all) {
          DifferenceText.component(out(), c);
          if (c.key().startsWith("records/")) {
            RowPage page =
                api().get(path + "/rows" + Api.query("component", c.key()), RowPage.class);
            page.items().stream().limit(rows).forEach(r -> DifferenceText.row(out(), r));
            if (page.total() > rows) {
              out().line("  … " + (page.total() - rows) + " more, use --rows");
            }
          }
        }
      }
      return fail && !all.isEmpty() ? Failed.DIFFERENT : 0;
    }

    @Command(name = "show", description = "One version.")
    void show(@Parameters(paramLabel = "APPLICATION@NUMBER") String version) {
      String[] p = parts(version, "fares@2.4.0");
      VersionView v =
          api().get("/versions/" + Api.encode(p[0]) + "/" + Api.encode(p[1]), VersionView.class);
      if (out().json()) {
        out().document("version", v);
        return;
      }
      out()
          .facts(
              "Version",
              version,
              "Title",
              v.title(),
              "Notes",
              v.notes(),
              "Tasks",
              String.join(", ", v.tasks()),
              "Needs",
              String.join(", ", v.needs()),
              "Drafted from",
              v.parent() == null ? "nothing: adopted" : v.parent(),
              "Author",
              v.author(),
              "Sealed",
              out().time(v.sealedAt()),
              "Digest",
              v.digest(),
              "From",
              v.source(),
              "Holds",
              counted(v.kinds()));
      out().line("");
      EntryPage first = api().get(components(version) + "?limit=" + SHOWN, EntryPage.class);
      out().table(ENTRY_HEADS, first.items().stream().map(DraftCommands::entry).toList());
      if (first.next() != null) {
        out()
            .note(
                SHOWN
                    + " of "
                    + first.total()
                    + " components; all of them: plenzo component list "
                    + version
                    + " --all");
      }
      v.removals().forEach(r -> out().line("takes away " + r));
      v.order().forEach(o -> out().line("moved by hand: " + o));
    }

    @Command(
        name = "verdict",
        description =
            "Says good or bad of a version at a site. Bad holds every open promotion of it.")
    void verdict(
        @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
        @Option(names = "--site", required = true) String site,
        @Option(names = "--good") boolean good,
        @Option(names = "--bad") boolean bad,
        @Option(names = "--reason", required = true) String reason) {
      if (good == bad) {
        throw Failed.usage("Say --good or --bad.");
      }
      String[] p = parts(version, "fares@2.4.0");
      RecordView r =
          api()
              .post(
                  "/versions/" + Api.encode(p[0]) + "/" + Api.encode(p[1]) + "/verdict",
                  new Verdict(site(site), good, reason),
                  RecordView.class);
      out()
          .line(
              version
                  + " is judged "
                  + (good ? "good" : "bad")
                  + " at "
                  + site(site)
                  + ": "
                  + reason
                  + (good || r.lastGood() == null
                      ? ""
                      : " Last good here: "
                          + r.lastGood()
                          + ". Next: plenzo rollback ways "
                          + p[0]
                          + "@"
                          + site(site)));
    }

    @Command(
        name = "withdraw",
        description = "It can no longer be promoted, but still serves for going back.")
    void withdraw(
        @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
        @Option(names = "--reason", required = true) String reason) {
      String[] p = parts(version, "fares@2.4.0");
      api()
          .post(
              "/versions/" + Api.encode(p[0]) + "/" + Api.encode(p[1]) + "/withdraw",
              new Reason(reason),
              VersionView.class);
      out().line(version + " is withdrawn.");
    }
  }
}
