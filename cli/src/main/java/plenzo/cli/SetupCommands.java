package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.Adopt;
import plenzo.api.Stages.ApplicationView;
import plenzo.api.Stages.CandidateView;
import plenzo.api.Stages.ChangeApplication;
import plenzo.api.Stages.ConnectionView;
import plenzo.api.Stages.Match;
import plenzo.api.Stages.NewApplication;
import plenzo.api.Stages.PathView;
import plenzo.api.Stages.PickView;
import plenzo.api.Stages.QuestionView;
import plenzo.api.Stages.Ready;
import plenzo.api.Stages.SaveConnection;
import plenzo.api.Stages.SiteView;
import plenzo.api.Stages.StageView;
import plenzo.api.Stages.TargetView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Standings.SourceView;
import plenzo.api.Versions.HookView;
import plenzo.api.Versions.RepositoryView;
import plenzo.api.Versions.VersionView;

/** Stages, sites, connections, paths, applications and adoption. */
final class SetupCommands {
  private SetupCommands() {}

  @Command(
      name = "stage",
      description = "The places that versions travel through.",
      footer = {
        "",
        "Examples:",
        "  plenzo stage list",
        "  plenzo stage new production --name Production --role production --approvals 1 --needs-verdict"
      })
  static final class StageCommand extends Group {
    @Command(name = "list", description = "All stages, in order.")
    void list() {
      out()
          .list(
              "stages",
              api().list("/stages", StageView.class),
              List.of("stage", "name", "role", "sites", "approvals"),
              s ->
                  List.of(
                      out().site(s.key(), s.role().equals("production")),
                      s.name(),
                      s.role(),
                      String.join(", ", s.sites().stream().map(SiteView::key).toList()),
                      String.valueOf(s.approvals())));
    }

    @Command(name = "new", description = "Registers a stage.")
    void make(
        @Parameters(paramLabel = "KEY") String key,
        @Option(names = "--name", required = true) String name,
        @Option(names = "--role", required = true, description = "development, test or production.")
            String role,
        @Option(names = "--position", defaultValue = "0") int position,
        @Option(
                names = "--zone",
                defaultValue = "UTC",
                description = "Time zone, such as Europe/Oslo.")
            String zone,
        @Option(
                names = "--approvals",
                defaultValue = "0",
                description = "How many a promotion to here needs.")
            int approvals,
        @Option(
                names = "--needs-verdict",
                description = "A version must be judged good at the stage before.")
            boolean verdict,
        @Option(names = "--needs-proof", description = "A backup must be proven by restoring it.")
            boolean proof) {
      StageView s =
          api()
              .put(
                  "/stages/" + Api.encode(key),
                  new StageView(
                      key, name, role, position, zone, approvals, verdict, proof, List.of(), 0),
                  StageView.class);
      out().line("Stage " + s.key() + " is registered.");
    }
  }

  @Command(
      name = "site",
      description = "Installations of a stage, with their database, files and host.",
      footer = {
        "",
        "Examples:",
        "  plenzo site new test/main --looking db-look --changing db-change --scratch scratch --schema fares",
        "  plenzo site check test/main"
      })
  static final class Site extends Group {
    private StageView stage(String key) {
      return api().list("/stages", StageView.class).stream()
          .filter(s -> s.key().equals(key))
          .findFirst()
          .orElseThrow(
              () -> Failed.notFound("There is no stage \"" + key + "\".", "plenzo stage list"));
    }

    @Command(
        name = "new",
        description = "Adds a site with its database, directory and application host to a stage.")
    void make(
        @Parameters(paramLabel = "STAGE/SITE") String site,
        @Option(names = "--looking", description = "Connection to the database that may only read.")
            @Nullable String looking,
        @Option(
                names = "--changing",
                defaultValue = "",
                description = "Connection used inside runs alone.")
            String changing,
        @Option(
                names = "--scratch",
                defaultValue = "",
                description = "Connection to where backups are proven.")
            String scratch,
        @Option(names = "--schema", description = "Schemas that Plenzo looks at.")
            @Nullable List<String> schemas,
        @Option(names = "--directory", description = "Connection to the published files.")
            @Nullable String directory,
        @Option(names = "--app-host", description = "Connection to the application host.")
            @Nullable String host) {
      String[] at = site(site).split("/", 2);
      StageView s = stage(at[0]);
      List<SiteView> sites =
          new ArrayList<>(s.sites().stream().filter(x -> !x.key().equals(at[1])).toList());
      List<TargetView> targets = new ArrayList<>();
      if (looking != null) {
        targets.add(
            new TargetView(
                "database",
                "postgresql",
                schemas == null ? List.of() : schemas,
                looking,
                changing,
                scratch));
      }
      boolean source = s.role().equals("development");
      if (directory != null) {
        targets.add(
            new TargetView(
                "files", "directory", List.of(), directory, source ? "" : directory, ""));
      }
      if (host != null) {
        targets.add(new TargetView("host", "host", List.of(), host, source ? "" : host, ""));
      }
      if (targets.isEmpty()) {
        throw Failed.usage("A site needs --looking, --directory or --app-host.");
      }
      sites.add(new SiteView(at[1], targets));
      api()
          .put(
              "/stages/" + Api.encode(at[0]),
              new StageView(
                  s.key(),
                  s.name(),
                  s.role(),
                  s.position(),
                  s.zone(),
                  s.approvals(),
                  s.needsVerdict(),
                  s.needsProof(),
                  sites,
                  s.revision()),
              StageView.class);
      out().line("Site " + site(site) + " is registered. Next: plenzo site check " + site(site));
    }

    @Command(name = "check", description = "Tests every connection of a site.")
    int check(@Parameters(paramLabel = "STAGE/SITE") String site) {
      String[] at = site(site).split("/", 2);
      List<ConnectionView> tested =
          api()
              .postList(
                  "/sites/" + Api.encode(at[0]) + "/" + Api.encode(at[1]) + "/check",
                  java.util.Map.of(),
                  ConnectionView.class);
      boolean good = tested.stream().allMatch(c -> Objects.requireNonNull(c.test()).good());
      if (out().json()) {
        out().document("tests", tested);
      } else {
        List<List<String>> rows = new ArrayList<>();
        tested.forEach(
            c ->
                Objects.requireNonNull(c.test())
                    .probes()
                    .forEach(
                        p ->
                            rows.add(
                                List.of(
                                    c.name(),
                                    p.name(),
                                    out().state(p.good() ? "good" : "failed"),
                                    p.found(),
                                    p.advice()))));
        out().table(List.of("connection", "probe", "result", "found", "advice"), rows);
      }
      return good ? 0 : Failed.STOPPED;
    }
  }

  @Command(
      name = "connection",
      description = "Named ways to reach a system; secrets are write-only.",
      footer = {
        "",
        "Examples:",
        "  plenzo connection list --stage production",
        "  plenzo connection new production/files --leads-to directory --path /srv/fares/published",
        "  plenzo connection lend production/terminal --to fares"
      })
  static final class ConnectionCommand extends Group {
    @Command(name = "list", description = "All connections with the result of their last test.")
    void list(@Option(names = "--stage") @Nullable String stage) {
      out()
          .list(
              "connections",
              api().list("/connections" + Api.query("stage", stage), ConnectionView.class),
              List.of("connection", "sort", "leads to", "lent to", "secret", "test"),
              c ->
                  List.of(
                      c.stage() + "/" + c.name(),
                      c.sort(),
                      c.leadsTo(),
                      String.join(", ", c.lentTo()),
                      c.sort().equals("directory")
                          ? "needs none"
                          : c.hasSecret() ? "set by " + c.secretSetBy() : "not set",
                      c.test() == null
                          ? "not tested"
                          : out().state(c.test().good() ? "good" : "failed")
                              + " "
                              + out().time(c.test().at())));
    }

    @Command(
        name = "new",
        description = "Registers a connection; its password or token comes from standard input.",
        footer = {
          "",
          "Examples:",
          "  plenzo connection new test/db-look --host db.example --database app --account look < password.txt",
          "  plenzo connection new test/files --leads-to directory --path /srv/test/published",
          "  plenzo connection new test/host --leads-to host --host app.example --port 8443 < token.txt",
          "  plenzo connection new test/host --leads-to host --host app.example --port 8443 --sign-in certificate --authority ca.pem < key-and-certificate.pem"
        })
    void make(
        @Parameters(paramLabel = "STAGE/NAME") String id,
        @Option(
                names = "--leads-to",
                defaultValue = "postgresql",
                description = "postgresql, directory or host.")
            String sort,
        @Option(names = "--host", description = "Of a database or an application host.")
            @Nullable String host,
        @Option(names = "--port", defaultValue = "5432") int port,
        @Option(names = "--database") @Nullable String database,
        @Option(names = "--account") @Nullable String account,
        @Option(
                names = "--path",
                description =
                    "Folder of a directory; what stands before the protocol in a host's address.")
            @Nullable String path,
        @Option(
                names = "--mode",
                paramLabel = "exchange|in-place",
                description = "How a directory is switched; exchange is the default.")
            @Nullable String mode,
        @Option(
                names = "--longest-path",
                paramLabel = "BYTES",
                description = "Longest whole path that whoever reads the directory can bear.")
            @Nullable Integer longest,
        @Option(
                names = "--sign-in",
                paramLabel = "token|certificate",
                description =
                    "How an application host is told who calls; for certificate, standard input holds a private key (PKCS#8) and its certificates in PEM.")
            @Nullable String signIn,
        @Option(
                names = "--authority",
                paramLabel = "FILE",
                description =
                    "Certificates in PEM that an application host is trusted by, instead of the machine's.")
            @Nullable Path authority,
        @Option(
                names = "--lend-to",
                paramLabel = "APPLICATION",
                description =
                    "Which applications may name it in a binding; targets need no such leave.")
            @Nullable List<String> lent,
        @Option(
                names = "--tls",
                defaultValue = "verify-full",
                description = "verify-full, require or disable.")
            String tls) {
      String[] at = id.split("/", 2);
      if (at.length < 2) {
        throw Failed.usage("A connection is written STAGE/NAME.");
      }
      boolean directory = sort.equals("directory");
      require(directory, path, "--path");
      require(!directory, host, "--host");
      require(sort.equals("postgresql"), database, "--database");
      require(sort.equals("postgresql"), account, "--account");
      java.util.Map<String, String> options = new java.util.TreeMap<>();
      if (mode != null) {
        options.put("mode", mode);
      }
      if (longest != null) {
        options.put("longest-path", String.valueOf(longest));
      }
      if (signIn != null) {
        options.put("sign-in", signIn);
      }
      if (authority != null) {
        try {
          options.put("authority", Files.readString(authority));
        } catch (IOException e) {
          throw Failed.usage("The file " + authority + " cannot be read.");
        }
      }
      ConnectionView c =
          api()
              .put(
                  "/connections/" + Api.encode(at[0]) + "/" + Api.encode(at[1]),
                  new SaveConnection(
                      at[1],
                      sort,
                      host,
                      directory ? 0 : port,
                      database,
                      path,
                      account,
                      directory ? "disable" : tls,
                      options,
                      lent,
                      directory ? null : top().standardInput(),
                      0),
                  ConnectionView.class);
      out().line("Connection " + c.stage() + "/" + c.name() + " is registered.");
    }

    private static void require(boolean needed, @Nullable String value, String option) {
      if (needed && value == null) {
        throw Failed.usage("This sort of connection needs " + option + ".");
      }
    }

    @Command(
        name = "ready",
        description =
            "Makes a plain directory fit for being switched: it becomes a link to a tree. For a moment nobody finds it.")
    void ready(@Parameters(paramLabel = "STAGE/NAME") String id) {
      String[] at = id.split("/", 2);
      if (at.length < 2) {
        throw Failed.usage("A connection is written STAGE/NAME.");
      }
      out()
          .line(
              api()
                  .post(
                      "/connections/" + Api.encode(at[0]) + "/" + Api.encode(at[1]) + "/ready",
                      java.util.Map.of(),
                      Ready.class)
                  .done());
    }

    private ConnectionView find(String id) {
      String[] at = id.split("/", 2);
      return api().list("/connections" + Api.query("stage", at[0]), ConnectionView.class).stream()
          .filter(c -> at.length == 2 && c.name().equals(at[1]))
          .findFirst()
          .orElseThrow(
              () ->
                  Failed.notFound(
                      "There is no connection \"" + id + "\".", "plenzo connection list"));
    }

    @Command(
        name = "lend",
        description = "Says which applications may name it in a binding; the whole list.",
        footer = {"", "Examples:", "  plenzo connection lend production/terminal --to fares"})
    void lend(
        @Parameters(paramLabel = "STAGE/NAME") String id,
        @Option(names = "--to", paramLabel = "APPLICATION", description = "None: nobody any more.")
            @Nullable List<String> to) {
      ConnectionView old = find(id);
      List<String> lent = to == null ? List.of() : to;
      api()
          .put(
              "/connections/" + Api.encode(old.stage()) + "/" + Api.encode(old.name()),
              new SaveConnection(
                  old.name(),
                  old.sort(),
                  old.host(),
                  old.port(),
                  old.database(),
                  old.path(),
                  old.account(),
                  old.tls(),
                  old.options(),
                  lent,
                  null,
                  old.revision()),
              ConnectionView.class);
      out()
          .line(
              "Connection "
                  + id
                  + (lent.isEmpty()
                      ? " is lent to nobody."
                      : " is lent to " + String.join(", ", lent) + "."));
    }

    @Command(
        name = "change",
        description = "Changes where it leads; that clears its secret and its test.")
    void change(
        @Parameters(paramLabel = "STAGE/NAME") String id,
        @Option(names = "--host") @Nullable String host,
        @Option(names = "--port") @Nullable Integer port,
        @Option(names = "--database") @Nullable String database,
        @Option(names = "--path") @Nullable String path,
        @Option(names = "--account") @Nullable String account,
        @Option(names = "--secret-stdin", description = "Read a new password from standard input.")
            boolean secret) {
      String[] at = id.split("/", 2);
      ConnectionView old = find(id);
      SaveConnection next =
          new SaveConnection(
              old.name(),
              old.sort(),
              host == null ? old.host() : host,
              port == null ? old.port() : port,
              database == null ? old.database() : database,
              path == null ? old.path() : path,
              account == null ? old.account() : account,
              old.tls(),
              old.options(),
              null,
              secret ? top().standardInput() : null,
              old.revision());
      api()
          .put(
              "/connections/" + Api.encode(at[0]) + "/" + Api.encode(at[1]),
              next,
              ConnectionView.class);
      out().line("Connection " + id + " is changed.");
    }
  }

  @Command(
      name = "path",
      description = "A source and the stages that versions travel from it.",
      footer = {
        "",
        "Examples:",
        "  plenzo path list",
        "  plenzo path new ordinary --name Ordinary --source development --leg test --leg production"
      })
  static final class PathCommand extends Group {
    @Command(name = "list", description = "All paths.")
    void list() {
      out()
          .list(
              "paths",
              api().list("/paths", PathView.class),
              List.of("path", "name", "source", "stages"),
              p -> List.of(p.key(), p.name(), p.source(), String.join(", ", p.legs())));
    }

    @Command(name = "new", description = "Lays a path.")
    void make(
        @Parameters(paramLabel = "KEY") String key,
        @Option(names = "--name", required = true) String name,
        @Option(names = "--source", required = true) String source,
        @Option(names = "--leg", required = true) List<String> legs) {
      api().post("/paths", new PathView(key, name, source, legs), PathView.class);
      out().line("Path " + key + " goes from " + source + " to " + String.join(", ", legs) + ".");
    }
  }

  @Command(
      name = "app",
      description = "Applications, and adopting what is there.",
      footer = {
        "",
        "Examples:",
        "  plenzo app new fares --name Fares --owner \"Ticket office\" --space fares --path ordinary",
        "  plenzo app candidates fares --site production",
        "  plenzo app adopt fares --site production --number 2.3.0 --title \"What was there\" --everything"
      })
  static final class App extends Group {
    @Command(name = "list", description = "All applications.")
    void list() {
      out()
          .list(
              "applications",
              api().list("/applications", ApplicationView.class),
              List.of("application", "name", "owner", "schema", "path"),
              a -> List.of(a.key(), a.name(), a.owner(), a.schema(), a.path()));
    }

    @Command(name = "show", description = "An application's facts.")
    void show(@Parameters(paramLabel = "KEY") String key) {
      show(find(key));
    }

    private ApplicationView find(String key) {
      return api().list("/applications", ApplicationView.class).stream()
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
              "Path",
              a.path(),
              "Private",
              String.join(", ", a.privateColumns()),
              "Asked",
              a.questions().stream()
                  .map(QuestionView::name)
                  .collect(java.util.stream.Collectors.joining(", ")),
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
                names = "--private",
                paramLabel = "SCHEMA.TABLE.COLUMN",
                description = "Its values are never shown, only that they differ; the whole list.")
            @Nullable List<String> columns,
        @Option(
                names = "--question",
                paramLabel = "NAME=JSON",
                description =
                    "Asked of the application host before and after every run; the answer must stay. The whole list.")
            @Nullable List<String> questions) {
      show(
          api()
              .put(
                  "/applications/" + Api.encode(key),
                  new ChangeApplication(
                      name,
                      owner,
                      description,
                      support,
                      columns,
                      questions == null ? null : questions.stream().map(App::question).toList()),
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
        @Option(
                names = "--folder",
                defaultValue = "",
                description = "Below which the documents lie.")
            String folder,
        @Option(names = "--branch", defaultValue = "main") String branch,
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
                names = "--secret-stdin",
                description = "Its password or token, from standard input.")
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
                      prefix),
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
              .post(
                  "/applications/" + Api.encode(key) + "/hook", java.util.Map.of(), HookView.class);
      if (out().json()) {
        out().document("hook", h);
        return;
      }
      out().facts("Address", top().address() + h.path(), "Secret", h.secret());
      out()
          .note(
              "Let the repository's server POST JSON there, signed with HMAC-SHA256 (X-Hub-Signature).");
    }

    private static QuestionView question(String text) {
      int at = text.indexOf('=');
      if (at < 1) {
        throw Failed.usage("A question is written NAME=JSON.");
      }
      return new QuestionView(text.substring(0, at), text.substring(at + 1), true);
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
        @Option(names = "--site", required = true) String site) {
      out()
          .list(
              "candidates",
              read(app, site),
              List.of("component", "rows", "bytes", "key", "remarks"),
              c -> {
                List<String> remarks = new ArrayList<>(c.refusals());
                remarks.addAll(c.risks());
                if (!c.keyProblem().isEmpty()) {
                  remarks.add("no records: " + c.keyProblem());
                }
                return List.of(
                    c.component(),
                    c.component().startsWith("table/") ? String.valueOf(c.rows()) : "",
                    c.size() == 0 ? "" : String.valueOf(c.size()),
                    String.join(",", c.key()),
                    String.join("; ", remarks));
              });
    }

    private List<CandidateView> read(String app, String site) {
      return api()
          .list(
              "/applications/" + Api.encode(app) + "/candidates" + Api.query("site", site(site)),
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
                description = "Every table, file and definition that can be carried.")
            boolean all,
        @Option(names = "--table", description = "A table's structure.")
            @Nullable List<String> tables,
        @Option(
                names = "--component",
                paramLabel = "KIND/NAME",
                description = "A file or a definition.")
            @Nullable List<String> components,
        @Option(names = "--records", description = "A table's rows too, as TABLE or TABLE:KEY,KEY.")
            @Nullable List<String> records) {
      List<PickView> picks = new ArrayList<>();
      if (all) {
        read(app, site).stream()
            .filter(c -> c.refusals().isEmpty())
            .forEach(c -> picks.add(new PickView(c.component(), null, null, null)));
      }
      for (String t : tables == null ? List.<String>of() : tables) {
        picks.add(new PickView("table/" + t, null, null, null));
      }
      for (String c : components == null ? List.<String>of() : components) {
        picks.add(new PickView(c, null, null, null));
      }
      for (String r : records == null ? List.<String>of() : records) {
        picks.add(pick("records/" + r));
      }
      VersionView v =
          api()
              .post(
                  "/applications/" + Api.encode(app) + "/adopt",
                  new Adopt(site(site), number, title, picks),
                  VersionView.class);
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

    @Command(
        name = "match",
        description =
            "Records that a site holds a version that exists; what differs shows as drift.")
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

  /** {@code records/fares.band} or {@code records/fares.band:code,zone}. */
  static PickView pick(String text) {
    int colon = text.indexOf(':');
    return colon < 0
        ? new PickView(text, null, null, null)
        : new PickView(
            text.substring(0, colon), List.of(text.substring(colon + 1).split(",")), null, true);
  }
}
