package plenzo.cli;

import static plenzo.cli.Picks.pick;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.Adopt;
import plenzo.api.Stages.ApplicationView;
import plenzo.api.Stages.CandidateView;
import plenzo.api.Stages.ChangeApplication;
import plenzo.api.Stages.Match;
import plenzo.api.Stages.NewApplication;
import plenzo.api.Stages.PickView;
import plenzo.api.Stages.QuestionView;
import plenzo.api.Stages.Retire;
import plenzo.api.Stages.RetiringView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Standings.SourceView;
import plenzo.api.Versions.HookView;
import plenzo.api.Versions.RepositoryView;
import plenzo.api.Versions.VersionView;

@Command(
    name = "app",
    description = "Applications, and adopting what is there.",
    footer = {
      "",
      "Examples:",
      "  plenzo app new fares --name Fares --owner \"Ticket office\" --space fares --path ordinary",
      "  plenzo app candidates fares --site production",
      "  plenzo app adopt fares --site production --number 2.3.0 --title \"What was there\" --everything --records fares.band"
    })
final class AppCommand extends Group {
  @Command(name = "list", description = "All applications that are in use.")
  void list(
      @Option(names = "--retired", description = "Those that were taken out of use as well.")
          boolean retired) {
    out()
        .list(
            "applications",
            api()
                .pages(
                    "/applications" + Api.query("retired", retired ? "true" : null),
                    ApplicationView.class,
                    out().wanted()),
            List.of("application", "name", "owner", "schema", "path", "out of use"),
            a ->
                List.of(
                    a.key(),
                    a.name(),
                    a.owner(),
                    a.schema(),
                    String.join(", ", a.paths()),
                    a.retired() == null
                        ? ""
                        : out().time(a.retired().at())
                            + " by "
                            + a.retired().by()
                            + ": "
                            + a.retired().reason()));
  }

  @Command(
      name = "retire",
      description = {
        "Takes an application out of use for good: nothing new comes of it, and it is looked at no",
        "more. What its sites hold, its versions and its history stay. Repeat its key by --confirm."
      },
      footer = {
        "",
        "Examples:",
        "  plenzo app retire boarding --reason \"Replaced by gates\" --confirm boarding"
      })
  void retire(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--reason", required = true) String reason) {
    String at = "/applications/" + Api.encode(key) + "/retire";
    RetiringView c = api().get(at, RetiringView.class);
    if (!c.open().isEmpty()) {
      throw new Failed(
          Failed.STOPPED,
          "STILL_OPEN",
          key + " has something open: " + String.join(", ", c.open()) + ".",
          List.of("End or withdraw it first"),
          "");
    }
    c.holds().forEach(h -> out().note(h.site() + " keeps " + key + " " + h.version() + "."));
    out().note(counted(c.versions(), "version") + " and the history stay to be read.");
    String confirm = top().confirm;
    ApplicationView a =
        api().post(at, new Retire(reason, confirm == null ? "" : confirm), ApplicationView.class);
    out().line(a.key() + " is out of use.");
  }

  @Command(name = "show", description = "An application's facts.")
  void show(@Parameters(paramLabel = "KEY") String key) {
    show(find(key));
  }

  private ApplicationView find(String key) {
    return api().all("/applications?retired=true", ApplicationView.class).stream()
        .filter(a -> a.key().equals(key))
        .findFirst()
        .orElseThrow(
            () ->
                Failed.notFound(
                    "There is no application \"" + key + "\" that you may see.",
                    "plenzo app list"));
  }

  private void show(ApplicationView a) {
    if (out().json()) {
      out().document("application", a);
      return;
    }
    out()
        .facts(
            "Application",
            a.key(),
            "Name",
            a.name(),
            "Id",
            a.id(),
            "Owner",
            a.owner(),
            "For",
            a.description(),
            "Support",
            a.support().entrySet().stream()
                .map(e -> e.getKey() + ": " + e.getValue())
                .collect(java.util.stream.Collectors.joining(", ")),
            "Name space",
            a.schema(),
            "Further schemas",
            String.join(", ", a.furtherSchemas()),
            "Paths",
            String.join(", ", a.paths()),
            "Private",
            String.join(", ", a.privateColumns()),
            "Asked",
            a.questions().stream()
                .map(AppCommand::asked)
                .collect(java.util.stream.Collectors.joining("\n")),
            "Repository",
            a.repository() == null ? "" : a.repository() + ", branch " + a.repositoryBranch());
  }

  @Command(
      name = "change",
      description = "Changes its facts; what is not named stays.",
      footer = {
        "",
        "Examples:",
        "  plenzo app change fares --description \"Prices of every crossing\" --support production=\"Fares desk\""
      })
  void change(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name") @Nullable String name,
      @Option(names = "--owner") @Nullable String owner,
      @Option(names = "--description", description = "What it is for.")
          @Nullable String description,
      @Option(
              names = "--support",
              paramLabel = "STAGE=WHO",
              description = "Who is called about it at a stage; the whole list.")
          java.util.@Nullable Map<String, String> support,
      @Option(
              names = "--path",
              description =
                  "A path that its versions may travel, the ordinary one first; the whole list.")
          @Nullable List<String> paths,
      @Option(
              names = "--private",
              paramLabel = "SCHEMA.TABLE.COLUMN",
              description =
                  "Its values are never shown, only that they differ; the whole list, \"\" for none.")
          @Nullable List<String> columns,
      @Option(
              names = "--further-schema",
              paramLabel = "SCHEMA",
              description =
                  "A schema of the database that belongs to it beside the one called like its name space;"
                      + " the whole list, \"\" for none.")
          @Nullable List<String> further,
      @Option(
              names = "--question",
              paramLabel = "NAME=QUESTION",
              description =
                  "Asked before and after every run: the host's own JSON, https://… for a page, \"query:SELECT …\""
                      + " or \"file:PATH\"; {stage} and {site} stand for the site's. The whole list, \"\" for none.")
          @Nullable List<String> questions,
      @Option(
              names = "--expected",
              paramLabel = "NAME=TEXT",
              description =
                  "What a question is answered afterwards: the whole answer of a host or a query, a text that a"
                      + " page or a file has. Without it the answer must stay as it was.")
          @Nullable Map<String, String> expected) {
    show(
        api()
            .put(
                "/applications/" + Api.encode(key),
                new ChangeApplication(
                    name,
                    owner,
                    description,
                    support,
                    paths,
                    columns == null ? null : columns.stream().filter(c -> !c.isBlank()).toList(),
                    questions == null
                        ? null
                        : questions.stream()
                            .filter(q -> !q.isBlank())
                            .map(q -> question(q, expected == null ? Map.of() : expected))
                            .toList(),
                    further == null ? null : further.stream().filter(c -> !c.isBlank()).toList()),
                ApplicationView.class));
  }

  @Command(
      name = "repository",
      description = "Names the repository that holds the application's documents.",
      footer = {
        "",
        "Examples:",
        "  plenzo app repository boarding --address /srv/git/boarding.git",
        "  plenzo app repository boarding --address https://git.example/boarding.git --account reader --secret-stdin < token.txt"
      })
  void repository(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--address", required = true) String address,
      @Option(names = "--folder", defaultValue = "", description = "Below which the documents lie.")
          String folder,
      @Option(
              names = "--branch",
              defaultValue = "",
              description = "The repository's own when none is named.")
          String branch,
      @Option(names = "--account", defaultValue = "") String account,
      @Option(
              names = "--new-tag",
              defaultValue = "nothing",
              paramLabel = "nothing|draft|seal",
              description =
                  "What a new tag becomes by itself; those that are there already stay out.")
          String follow,
      @Option(
              names = "--tag-prefix",
              defaultValue = "v",
              description = "What stands before the number in a tag: v for v1.2.0.")
          String prefix,
      @Option(
              names = "--signed-in",
              paramLabel = "HEADER",
              description =
                  "Header in which its server signs calls that say \"look now\"; Plenzo-Signature when none is named.")
          @Nullable String signedIn,
      @Option(names = "--secret-stdin", description = "Its password or token, from standard input.")
          boolean secret) {
    RepositoryView r =
        api()
            .put(
                "/applications/" + Api.encode(key) + "/repository",
                new RepositoryView(
                    address,
                    folder,
                    branch,
                    account,
                    secret ? top().standardInput() : null,
                    follow,
                    prefix,
                    signedIn,
                    null),
                RepositoryView.class);
    if (!follow.equals("nothing")) {
      look(key); // from here on tags are new
    }
    out()
        .line(
            key
                + " is kept in "
                + r.address()
                + ", branch "
                + r.branch()
                + (follow.equals("nothing")
                    ? "."
                    : ", and a new tag "
                        + prefix
                        + "… becomes a "
                        + (follow.equals("seal") ? "version." : "draft.")));
  }

  private SourceView look(String key) {
    return api()
        .post(
            "/applications/" + Api.encode(key) + "/look-at-source",
            java.util.Map.of(),
            SourceView.class);
  }

  @Command(
      name = "look",
      description = "Looks at an application's source now: what changed there, and new tags.")
  void lookNow(@Parameters(paramLabel = "KEY") String key) {
    SourceView s = look(key);
    if (out().json()) {
      out().document("source", s);
      return;
    }
    out()
        .line(
            s.against() == null
                ? key + " has no version yet to compare its source with."
                : s.changed() == 0
                    ? "The source of " + key + " is as in " + s.against() + "."
                    : s.changed()
                        + (s.changed() == 1 ? " component" : " components")
                        + " of "
                        + key
                        + " changed since "
                        + s.against()
                        + ".");
    if (!s.trouble().isEmpty()) {
      out().line(s.trouble() + ".");
    }
    if (!s.warning().isEmpty()) {
      out().line(s.warning());
    }
  }

  @Command(
      name = "hook",
      description =
          "Makes the address and secret of a call that says \"look now\"; told once, an older one no longer counts.")
  void hook(@Parameters(paramLabel = "KEY") String key) {
    HookView h =
        api()
            .post("/applications/" + Api.encode(key) + "/hook", java.util.Map.of(), HookView.class);
    if (out().json()) {
      out().document("hook", h);
      return;
    }
    out().facts("Address", top().address() + h.path(), "Secret", h.secret());
    out()
        .note(
            "Let the repository's server POST JSON there, its body signed with HMAC-SHA256 as"
                + " Plenzo-Signature: sha256=…; where it signs in a header of another name, say that"
                + " to \"app repository\" by --signed-in.");
  }

  /** A question as it is asked, and what counts as right. */
  static String asked(QuestionView q) {
    String sort = q.sort() == null || q.sort().equals("host") ? "" : q.sort() + " ";
    return q.name()
        + ": "
        + (sort.equals("page ") ? "" : sort)
        + q.question()
        + (q.expected() != null
            ? ", expected " + q.expected()
            : q.mustStay() ? ", stays as it was" : "");
  }

  private static QuestionView question(String text, Map<String, String> expected) {
    int at = text.indexOf('=');
    if (at < 1) {
      throw Failed.usage(
          "A question is written NAME=JSON, NAME=https://…, NAME=query:… or NAME=file:….");
    }
    String name = text.substring(0, at);
    String asked = text.substring(at + 1);
    String sort =
        asked.matches("https?://.*")
            ? "page"
            : asked.startsWith("query:") ? "query" : asked.startsWith("file:") ? "file" : "host";
    boolean named = sort.equals("query") || sort.equals("file");
    return new QuestionView(
        name,
        named ? asked.substring(sort.length() + 1) : asked,
        !expected.containsKey(name),
        sort,
        expected.get(name));
  }

  @Command(name = "new", description = "Registers an application.")
  void make(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name", required = true) String name,
      @Option(names = "--owner", required = true) String owner,
      @Option(
              names = {"--space", "--schema"},
              required = true,
              paramLabel = "NAME",
              description =
                  "Name space: its schema in a database, its folder, what stands before the dot of its definitions.")
          String schema,
      @Option(names = "--path", required = true) String path) {
    ApplicationView a =
        api()
            .post(
                "/applications",
                new NewApplication(key, name, owner, schema, path),
                ApplicationView.class);
    out().line("Application " + a.key() + " is registered, id " + a.id() + ".");
  }

  @Command(name = "candidates", description = "What a site holds that can be adopted.")
  void candidates(
      @Parameters(paramLabel = "APPLICATION") String app,
      @Option(names = "--site", required = true) String site,
      @Option(
              names = "--grants",
              description =
                  "Also what roles may do there; it is carried only where it is asked for.")
          boolean grants) {
    out()
        .list(
            "candidates",
            candidates(this, app, site, grants),
            List.of("component", "rows", "bytes", "key", "remarks"),
            c -> {
              List<String> remarks = new ArrayList<>(c.refusals());
              remarks.addAll(c.risks());
              if (!c.keyRemark().isEmpty()) {
                remarks.add(c.keyRemark());
              }
              if (!c.keyProblem().isEmpty()) {
                remarks.add("no records: " + c.keyProblem());
              }
              return List.of(
                  c.component(),
                  c.component().startsWith("table/") && c.rows() >= 0
                      ? String.valueOf(c.rows())
                      : "",
                  c.size() == 0 ? "" : String.valueOf(c.size()),
                  String.join(",", c.key()),
                  String.join("; ", remarks));
            });
  }

  /** What a site holds that can be adopted, and what of it cannot be carried. */
  static List<CandidateView> candidates(Group by, String app, String site) {
    return candidates(by, app, site, /* grants= */ false);
  }

  private static List<CandidateView> candidates(Group by, String app, String site, boolean grants) {
    return by.api()
        .list(
            "/applications/"
                + Api.encode(app)
                + "/candidates"
                + Api.query("site", by.site(site), "grants", grants ? "true" : null),
            CandidateView.class);
  }

  @Command(
      name = "adopt",
      description =
          "Records what a site holds as the first version there. Nothing is written to it but the marker.")
  void adopt(
      @Parameters(paramLabel = "APPLICATION") String app,
      @Option(names = "--site", required = true) String site,
      @Option(names = "--number", required = true) String number,
      @Option(names = "--title", required = true) String title,
      @Option(
              names = "--everything",
              description = "Every table, schema object, file and definition that can be carried.")
          boolean all,
      @Option(names = "--table", description = "A table's structure.")
          @Nullable List<String> tables,
      @Option(
              names = "--component",
              paramLabel = "KIND/NAME",
              description = "A view or another schema object, a file, a definition.")
          @Nullable List<String> components,
      @Option(
              names = "--records",
              arity = "1..*",
              description = "A table's rows too, as TABLE or TABLE:KEY,KEY.")
          @Nullable List<String> records,
      @Option(
              names = "--no-records",
              description = "No rows: what is in the tables is nobody's decision.")
          boolean noRecords,
      @Option(names = "--generated-key", description = Picks.GENERATED) boolean generated) {
    List<PickView> picks = new ArrayList<>();
    List<String> rows = records == null ? List.of() : records;
    if (all) {
      List<CandidateView> held = candidates(this, app, site);
      held.stream()
          .filter(c -> c.refusals().isEmpty())
          .forEach(c -> picks.add(new PickView(c.component(), null, null, null, null, null)));
      held.stream()
          .filter(c -> !c.refusals().isEmpty())
          .forEach(
              c ->
                  out()
                      .note("Left out: " + c.component() + ": " + String.join("; ", c.refusals())));
      if (rows.isEmpty() && !noRecords) {
        rows = whichRows(held);
      }
    }
    for (String t : tables == null ? List.<String>of() : tables) {
      picks.add(new PickView("table/" + t, null, null, null, null, null));
    }
    for (String c : components == null ? List.<String>of() : components) {
      picks.add(new PickView(c, null, null, null, null, null));
    }
    for (String r : rows) {
      picks.add(pick("records/" + r, generated));
    }
    VersionView v =
        Telling.work(
            this,
            "application/" + app,
            api ->
                api.post(
                    "/applications/" + Api.encode(app) + "/adopt",
                    new Adopt(site(site), number, title, picks),
                    VersionView.class));
    if (out().json()) {
      out().document("version", v);
      return;
    }
    out()
        .line(
            v.application()
                + "@"
                + v.number()
                + " is recorded at "
                + site(site)
                + ": "
                + counted(v.kinds())
                + ", digest "
                + v.digest().substring(0, 12)
                + ". Nothing was written there but the marker.");
  }

  /**
   * Rows that people decide about come with versions; those that are written every day do not, and
   * nobody but a person knows which are which.
   */
  private List<String> whichRows(List<CandidateView> held) {
    List<CandidateView> tables =
        held.stream()
            .filter(c -> c.refusals().isEmpty() && c.rows() > 0 && c.keyProblem().isEmpty())
            .toList();
    if (tables.isEmpty()) {
      return List.of();
    }
    List<String> names = tables.stream().map(c -> c.component().substring(6)).toList();
    String cost =
        "These tables hold rows: "
            + tables.stream().map(AppCommand::rowsOf).collect(Collectors.joining("; "))
            + ". Those that people decide about, such as prices, come with versions; those that are"
            + " written every day, such as bookings, do not.";
    if (!top().canAsk()) {
      throw Failed.confirm(
          cost,
          "Say which: --records "
              + String.join(" ", names)
              + " (those that you mean), or --no-records");
    }
    out().note(cost);
    String said =
        top().ask("Which of them come with versions? (names with spaces between, or none): ");
    return said.isBlank() || said.equals("none") ? List.of() : List.of(said.split("[\\s,]+"));
  }

  private static String rowsOf(CandidateView c) {
    return c.component().substring(6)
        + " ("
        + counted(c.rows(), "row")
        + ", key "
        + String.join(",", c.key())
        + (c.keyRemark().isEmpty() ? "" : ": " + c.keyRemark())
        + ")";
  }

  @Command(
      name = "match",
      description = "Records that a site holds a version that exists; what differs shows as drift.")
  void match(
      @Parameters(paramLabel = "APPLICATION") String app,
      @Option(names = "--site", required = true) String site,
      @Option(names = "--number", required = true) String number) {
    RecordView r =
        api()
            .post(
                "/applications/" + Api.encode(app) + "/match",
                new Match(site(site), number),
                RecordView.class);
    if (out().json()) {
      out().document("record", r);
      return;
    }
    out()
        .line(
            app
                + "@"
                + number
                + " is recorded at "
                + site(site)
                + ", "
                + (r.drift() == 0
                    ? "equal."
                    : r.drift() + " parts differ: " + String.join("; ", r.driftExamples())));
  }
}
