package plenzo.cli;

import static plenzo.cli.VersionText.components;
import static plenzo.cli.VersionText.place;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.PickView;
import plenzo.api.Versions.AddToDraft;
import plenzo.api.Versions.ComponentView;
import plenzo.api.Versions.ConvertColumn;
import plenzo.api.Versions.DraftView;
import plenzo.api.Versions.DropFromDraft;
import plenzo.api.Versions.DroppingView;
import plenzo.api.Versions.MoveInDraft;
import plenzo.api.Versions.NewDraft;
import plenzo.api.Versions.Removals;
import plenzo.api.Versions.RenamedColumn;
import plenzo.api.Versions.Seal;
import plenzo.api.Versions.TakeUp;
import plenzo.api.Versions.TwoColumns;
import plenzo.api.Versions.VersionView;

@Command(
    name = "draft",
    description = "An editable selection that becomes the next version.",
    footer = {
      "",
      "Examples:",
      "  plenzo draft new fares",
      "  plenzo draft add D-3 records/fares.concession --site development",
      "  plenzo draft add D-3 --site development --matching surcharge",
      "  plenzo draft add D-3 records/fares.zone --site development --policy add-only",
      "  plenzo draft add D-3 records/fares.band --site development --key code --where \"zone = 'N'\"",
      "  plenzo draft check D-3",
      "  plenzo draft seal D-3 --number 2.4.0 --title \"Summer fares\""
    })
final class DraftCommand extends Group {
  /** What is taken in one go: what can be, and the rest is named. */
  static final class Many {
    @Option(names = "--everything", description = "Everything that is new or changed there.")
    boolean everything;

    @Option(
        names = "--matching",
        paramLabel = "WORDS",
        description =
            "Of it what these words meet: a part of the name, the kind in your word for it, a uid.")
    @Nullable String matching;

    @Option(names = "--kind", description = "Of it one kind: table, records, rule …")
    @Nullable String kind;

    @Option(
        names = "--changed-since",
        paramLabel = "DAY",
        description =
            "Of it what was changed from that day on, where the source tells: 2027-01-31, or a"
                + " time.")
    @Nullable String changedSince;
  }

  /** Which rows of the components that are named. */
  static final class RowsOf {
    @Option(
        names = "--key",
        required = true,
        split = ",",
        paramLabel = "COLUMN",
        description = "Columns by which rows are told apart.")
    List<String> key = List.of();

    @Option(
        names = "--where",
        paramLabel = "CONDITION",
        description = "Only rows that meet it, such as \"zone = 'N' and not note is null\".")
    @Nullable String where;

    @Option(
        names = "--rows",
        paramLabel = "FILE",
        description = "Only rows whose keys it names, one a line, values separated by commas.")
    @Nullable Path rows;

    PickView of(String component, boolean generated) {
      if (where != null && rows != null) {
        throw Failed.usage("Name rows by --where or by --rows, not by both.");
      }
      return new PickView(
          component, key, rows == null ? null : Picks.rows(key, rows), generated, where, null);
    }
  }

  @Command(name = "list", description = "Open drafts; sealed and discarded ones on request.")
  void list(
      @Option(names = "--app") @Nullable String app,
      @Option(
              names = "--state",
              paramLabel = "STATE",
              defaultValue = "open",
              description = "open (the default), sealed, discarded, or any.")
          String state) {
    out()
        .list(
            "drafts",
            api()
                .pages(
                    "/drafts" + Api.query("application", app, "state", Listed.wanted(state)),
                    DraftView.class,
                    out().wanted()),
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
      @ArgGroup(exclusive = false, multiplicity = "0..1") @Nullable Many many,
      @ArgGroup(exclusive = false, multiplicity = "0..1") @Nullable RowsOf rows,
      @Option(names = "--generated-key", description = Picks.GENERATED) boolean generated,
      @Option(
              names = "--policy",
              paramLabel = "POLICY",
              description = {
                "What is done to rows of a site that the version has otherwise, or not at all:",
                "add-and-change (the default), add-only (what is there stays as it is), or mirror",
                "(a site has exactly the rows of the version: others go)."
              })
          @Nullable String policy,
      @Option(names = "--file", description = "Component names, one a line.") @Nullable Path file) {
    if ((site == null) == (revision == null)) {
      throw Failed.usage("Name either --site or --commit.");
    }
    List<PickView> picks = new ArrayList<>();
    DraftView draft = api().get("/drafts/" + Api.encode(id), DraftView.class);
    String from = site != null ? site(site) : place(this, draft.application(), revision);
    if (many != null) {
      List<ComponentView> held =
          api()
              .list(
                  "/components"
                      + Api.query(
                          "application",
                          draft.application(),
                          "site",
                          from,
                          "since",
                          draft.from(),
                          "find",
                          many.matching,
                          "kind",
                          many.kind,
                          "changedSince",
                          many.changedSince),
                  ComponentView.class);
      for (ComponentView c : held) {
        if (!c.problem().isEmpty() || !c.state().equals("new") && !c.state().equals("changed")) {
          continue;
        }
        if (many.changedSince != null && c.changedAt() == null) {
          out().note("Left out: " + c.key() + ": its source does not tell when it was changed");
        } else {
          picks.add(Picks.pick(c.key(), generated));
        }
      }
      held.stream()
          .filter(c -> !c.problem().isEmpty())
          .forEach(c -> out().note("Left out: " + c.key() + " " + c.problem()));
    }
    for (String c : components == null ? List.<String>of() : components) {
      PickView pick = rows == null ? Picks.pick(c, generated) : rows.of(c, generated);
      picks.add(c.startsWith("records/") ? Picks.under(pick, policy) : pick);
    }
    if (file != null) {
      try {
        Files.readAllLines(file).stream()
            .map(String::strip)
            .filter(l -> !l.isEmpty() && !l.startsWith("#"))
            .forEach(l -> picks.add(Picks.pick(l, generated)));
      } catch (IOException e) {
        throw Failed.usage("The file " + file + " cannot be read.");
      }
    }
    if (picks.isEmpty()) {
      throw Failed.usage("Name components, or a file of them.", "plenzo component changed-since …");
    }
    boolean whatCanBe = many != null || file != null;
    DraftView added =
        api()
            .post(
                "/drafts/" + Api.encode(id) + "/add",
                new AddToDraft(from, picks, whatCanBe),
                DraftView.class);
    added.notTaken().forEach(n -> out().note("Not taken: " + n));
    show(added);
  }

  @Command(
      name = "take-up",
      description = "Begins from a newer version that was made from the same one.",
      footer = {"", "Examples:", "  plenzo draft take-up D-3 2.6.1"})
  void takeUp(
      @Parameters(paramLabel = "DRAFT") String id,
      @Parameters(paramLabel = "NUMBER") String version) {
    show(
        api().post("/drafts/" + Api.encode(id) + "/take-up", new TakeUp(version), DraftView.class));
  }

  @Command(
      name = "remove",
      description = {
        "Drops a component from the draft; it stays as in the version drafted from.",
        "What was brought along for it alone goes too."
      },
      footer = {"", "Examples:", "  plenzo draft remove D-3 form/fares.quote --dry-run"})
  void remove(
      @Parameters(paramLabel = "DRAFT") String id,
      @Parameters(paramLabel = "COMPONENT") String component,
      @Option(names = "--dry-run", description = "Says what would go, and changes nothing.")
          boolean dryRun) {
    DroppingView d =
        api()
            .get(
                "/drafts/" + Api.encode(id) + "/drop" + Api.query("component", component),
                DroppingView.class);
    if (dryRun && out().json()) {
      out().document("dropping", d);
      return;
    }
    if (!d.stays().isEmpty()) {
      out().note(component + " stays picked: " + d.stays() + ".");
    }
    d.goes().forEach(g -> out().note("Goes with it: " + g.component() + ", " + g.reason() + "."));
    if (dryRun) {
      out()
          .line(
              d.stays().isEmpty()
                  ? counted(d.goes().size() + 1, "pick") + " would go."
                  : "Nothing would go.");
      return;
    }
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
            ? api().get("/drafts/" + Api.encode(id), DraftView.class).removed().gone()
            : removals == null ? List.of() : removals;
    show(
        api()
            .post(
                "/drafts/" + Api.encode(id) + "/removals", new Removals(ticked), DraftView.class));
  }

  @Command(
      name = "two-columns",
      aliases = "two-tables",
      description = {
        "Says that what is gone and what is new are two, not one that was renamed.",
        "Columns: draft two-columns D-7 table/fares.band price amount",
        "Tables: draft two-tables D-7 table/fares.band table/fares.rate"
      })
  void twoColumns(
      @Parameters(paramLabel = "DRAFT") String id,
      @Parameters(paramLabel = "WHAT", arity = "2..3") List<String> what) {
    Pair pair = Pair.of(what);
    show(
        api()
            .post(
                "/drafts/" + Api.encode(id) + "/two-columns",
                new TwoColumns(pair.component(), pair.was(), pair.is()),
                DraftView.class));
  }

  /** What is gone and what is new: columns of a table, or tables. */
  private record Pair(String component, String was, String is) {
    /** Of three words the table and its columns, of two the tables; the gone one first. */
    static Pair of(List<String> what) {
      return what.size() == 3
          ? new Pair(what.get(0), what.get(1), what.get(2))
          : new Pair(what.get(1), what.get(0), what.get(1));
    }
  }

  @Command(
      name = "renamed",
      description = {
        "Says that what is gone and what is new are one under another name: its values go with it."
            + " The same where another took the name that it gave up, which no check asks about.",
        "A column: draft renamed D-7 table/fares.band price amount",
        "A table: draft renamed D-7 table/fares.band table/fares.rate"
      })
  void renamed(
      @Parameters(paramLabel = "DRAFT") String id,
      @Parameters(paramLabel = "WHAT", arity = "2..3") List<String> what) {
    Pair pair = Pair.of(what);
    show(
        api()
            .post(
                "/drafts/" + Api.encode(id) + "/renamed",
                new RenamedColumn(pair.component(), pair.was(), pair.is()),
                DraftView.class));
  }

  @Command(
      name = "convert",
      description = {
        "States what the values of a column are worked out from, where it is new or gets another type:"
            + " an SQL expression over the columns that the table had before. It becomes part of the"
            + " version, stands in its plans, and is held against every row of a site beforehand.",
        "Another type: draft convert D-7 table/fares.band price \"round(price * 100)::integer\"",
        "Split: draft convert D-7 table/fares.desk first_name \"split_part(name, ' ', 1)\"",
        "And back: draft convert D-7 table/fares.desk name --back \"first_name || ' ' || last_name\"",
        "Names of other schemas than the server's own are written with their schema."
      })
  void convert(
      @Parameters(paramLabel = "DRAFT") String id,
      @Parameters(paramLabel = "TABLE") String table,
      @Parameters(paramLabel = "COLUMN") String column,
      @Parameters(paramLabel = "EXPRESSION", arity = "0..1") @Nullable String expression,
      @Option(
              names = "--back",
              description =
                  "For going back: the column is one of the version drafted from, the expression over"
                      + " those of the source.")
          boolean back,
      @Option(names = "--none", description = "Takes back what was stated of the column.")
          boolean none) {
    if (none == (expression != null)) {
      throw Failed.usage(
          none
              ? "Give an expression, or --none, not both."
              : "Give an expression, or --none to take back what was stated.");
    }
    show(
        api()
            .post(
                "/drafts/" + Api.encode(id) + "/convert",
                new ConvertColumn(table, column, expression, back),
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
        Telling.work(
            this,
            "draft/" + id,
            api ->
                api.post(
                    "/drafts/" + Api.encode(id) + "/check", java.util.Map.of(), DraftView.class));
    show(d);
    return d.checked().problems().isEmpty() ? 0 : Failed.STOPPED;
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
      @Option(names = "--drafted-notes", description = "Notes as drafted from what changes.")
          boolean drafted,
      @Option(
              names = "--needs",
              paramLabel = "\"APPLICATION RANGE\"",
              description =
                  "What must be at the same site, such as \"sailings >=1.8.0 <3.0.0\" or \"server/database >=15.0.0\"; the whole list.")
          @Nullable List<String> needs,
      @Option(
              names = "--task",
              paramLabel = "REFERENCE",
              description = "What it was done for: a word such as FERRY-118, or an https address.")
          @Nullable List<String> tasks,
      @Mixin ByHand.Given byHand) {
    Seal said =
        new Seal(number, title, drafted ? drafted(id) : notes, needs, tasks, byHand.steps());
    VersionView v =
        Telling.work(
            this,
            "draft/" + id,
            api -> api.post("/drafts/" + Api.encode(id) + "/seal", said, VersionView.class));
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
    ByHand.steps(out(), v.manual());
  }

  private String drafted(String id) {
    return api().get("/drafts/" + Api.encode(id), DraftView.class).draftedNotes();
  }

  @Command(
      name = "discard",
      description =
          "Throws its selection away for good; sources, versions and stages stay as they are.")
  void discard(@Parameters(paramLabel = "DRAFT") String id) {
    DraftView d = api().delete("/drafts/" + Api.encode(id), DraftView.class);
    out()
        .line(
            id
                + " is discarded, with "
                + counted(d.picks().size(), "pick")
                + ". Sources, versions and stages are as they were.");
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
        gone(d.removed().gone(), d.removed().ticked()));
    section("Changed and not picked", d.checked().leftBehind());
    section("Of what the source holds", d.checked().coverage());
    if (!d.writing().order().isEmpty() && d.writing().order().size() > 1) {
      section("Written in this order", numbered(d.writing().order()));
    }
    section("Moved by hand", d.writing().moved());
    section(
        "Worked out from rows as they were",
        d.writing().conversions().stream()
            .map(
                c ->
                    (c.back() ? "back: " : "")
                        + c.column()
                        + " of "
                        + c.component()
                        + " by "
                        + c.expression())
            .toList());
    section("Need one another, and are written together", d.checked().cycles());
    if (!d.checked().findings().isEmpty()) {
      out().line("");
      d.checked()
          .findings()
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

  /** Lines of what is gone. */
  private static final int MOST_GONE = 40;

  /** More parts of one component than this stand in one line. */
  private static final int ONE_BY_ONE = 5;

  /**
   * A line each; of what is gone by the dozen the component with how many, and the first of them.
   */
  static List<String> gone(List<String> gone, List<String> ticks) {
    Map<String, List<String>> by = new LinkedHashMap<>();
    for (String g : gone) {
      boolean ticked = ticks.contains(g);
      by.computeIfAbsent((ticked ? "[x] " : "[ ] ") + g.split("#", 2)[0], x -> new ArrayList<>())
          .add(g);
    }
    List<String> out = new ArrayList<>();
    by.forEach(
        (head, all) -> {
          if (all.size() <= ONE_BY_ONE) {
            all.forEach(g -> out.add(head.substring(0, 4) + g));
            return;
          }
          String first =
              all.stream()
                  .limit(ONE_BY_ONE)
                  .map(g -> g.contains("#") ? g.split("#", 2)[1] : g)
                  .collect(Collectors.joining(", "));
          out.add(
              head
                  + ": "
                  + all.size()
                  + " parts, "
                  + first
                  + " and "
                  + (all.size() - ONE_BY_ONE)
                  + " more (all of them with --json)");
        });
    return out.size() <= MOST_GONE
        ? out
        : Stream.concat(
                out.stream().limit(MOST_GONE),
                Stream.of("and " + (out.size() - MOST_GONE) + " more (all of them with --json)"))
            .toList();
  }
}
