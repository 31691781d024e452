package plenzo.engine.kit;

import static plenzo.engine.kit.ScriptedDatabase.column;

import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.Executor;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.component.ComponentKey;
import plenzo.core.drift.PutBack;
import plenzo.core.history.HistoryEntry;
import plenzo.core.json.Json;
import plenzo.core.keeping.Kept;
import plenzo.core.manual.ManualStep;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.probe.Probe;
import plenzo.core.promotion.Promotion;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.run.Run;
import plenzo.core.stage.Application;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.target.Doors;
import plenzo.core.target.Mail;
import plenzo.core.target.Pages;
import plenzo.core.target.TargetFailed;
import plenzo.core.telling.Letter;
import plenzo.core.version.Draft;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.Engine;
import plenzo.engine.Tools;
import plenzo.engine.Vault;
import plenzo.engine.people.People;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.running.RunListener;
import plenzo.engine.sealing.Drafts;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.Applications;
import plenzo.engine.setup.Destinations;
import plenzo.engine.underway.Underway;
import plenzo.store.DiskFiles;
import plenzo.store.DiskPackageDesk;
import plenzo.store.EmptyRecords;
import plenzo.store.H2Keeper;

/**
 * The whole engine over scripted targets: a development stage and a site of production with a
 * database and an application host, the application "fares" with one table and one rule, adopted as
 * 1.0.0. Everything happens in the caller's thread; what the engine would do in the background is
 * done at {@link #settleDown} or by the next call.
 */
public final class EngineKit implements AutoCloseable {
  public static final SiteKey DEVELOPMENT = new SiteKey("development", "main");
  public static final SiteKey SITE = new SiteKey("production", "main");
  public static final String BAND = "fares.band";
  public static final String RULE = "rule/fares.peak";

  public final ScriptedDatabase databases = new ScriptedDatabase();
  public final ScriptedItems hosts = new ScriptedItems();
  public final ScriptedCommits commits = new ScriptedCommits();

  /** Texts of pages by their addresses; others are not there. */
  public final Map<String, String> pages = new TreeMap<>();

  /** What was posted to addresses outside, and what they answer. */
  public final List<String> asked = new ArrayList<>();

  public UnaryOperator<String> outside =
      document -> {
        throw new TargetFailed("nobody answers", true, new IllegalStateException());
      };

  /** What addresses were told. */
  public record Told(String page, String document, Map<String, String> headers) {}

  public final List<Told> told = new ArrayList<>();

  /** May throw, where an address does not take what it is told. */
  public Consumer<String> hears = page -> {};

  /** Letters that a mail server took. */
  public final List<Letter> letters = new ArrayList<>();

  /** Whether there is a mail server. */
  public boolean post = true;

  /** May throw, where it does not take a letter. */
  public Consumer<Letter> takes = letter -> {};

  /** Told of every change of a run, in the middle of the call that changes it. */
  public Consumer<Run> watches = run -> {};

  private Mail mail() {
    return new Mail() {
      @Override
      public Optional<Server> server() {
        return post ? Optional.of(new Server("mail.example", 25)) : Optional.empty();
      }

      @Override
      public String reachedAt() {
        return "https://plenzo.example";
      }

      @Override
      public void send(Letter letter, List<String> addresses) {
        takes.accept(letter);
        letters.add(letter);
      }
    };
  }

  public final TickingClock clock = new TickingClock();
  public final Person ines = person("ines");
  public final Person bram = person("bram");

  private final Path folder;
  private final Deque<Runnable> later = new ArrayDeque<>();
  private H2Keeper keeper;
  private Engine engine;

  public EngineKit(Path folder) {
    this.folder = folder;
    this.keeper = open(folder);
    this.engine = build();
    lay();
  }

  private static H2Keeper open(Path folder) {
    EmptyRecords.into(folder);
    return new H2Keeper(folder, () -> "service", /* room= */ 1 << 20);
  }

  public static Person person(String login, Right... rights) {
    Right[] all = rights.length == 0 ? Right.values() : rights;
    return Person.invited(login, login, "", false)
        .withGrants(Arrays.stream(all).map(r -> new Person.Grant(r, "*", "*")).toList());
  }

  private Engine build() {
    SecureRandom random = new SecureRandom();
    Executor background = later::add;
    Executor nobody = r -> {};
    Tools tools =
        new Tools(
            keeper,
            new DiskFiles(folder.resolve("files")),
            Map.of(databases.sort(), databases, hosts.sort(), hosts),
            new Vault(new byte[32], random),
            clock,
            random,
            background,
            nobody,
            new Underway(clock),
            Duration.ofSeconds(15),
            new Pages() {
              @Override
              public String read(String page, List<String> addresses) {
                String text = pages.get(page);
                if (text == null) {
                  throw new TargetFailed(
                      page + " is not there", false, new IllegalStateException());
                }
                return text;
              }

              @Override
              public String post(
                  String page, List<String> addresses, String document, Duration within) {
                asked.add(document);
                return outside.apply(document);
              }

              @Override
              public void tell(
                  String page,
                  List<String> addresses,
                  String document,
                  Duration within,
                  Map<String, String> headers) {
                told.add(new Told(page, document, headers));
                hears.accept(page);
              }
            },
            mail(),
            clock::nanos);
    return new Engine(
        tools,
        new People.PasswordHasher() {
          @Override
          public String hash(String password) {
            return password;
          }

          @Override
          public boolean matches(String password, String hash) {
            return password.equals(hash);
          }
        },
        new Destinations() {
          @Override
          public Judged judged(String host, int port) {
            return new Judged(null, List.of());
          }

          @Override
          public @Nullable String refusal(String path) {
            return null;
          }
        },
        new DiskPackageDesk(new DiskFiles(folder.resolve("files"))),
        commits,
        List.of(),
        new RunListener() {
          @Override
          public void changed(Run run) {
            watches.accept(run);
          }

          @Override
          public void said(Run run, String line) {}
        });
  }

  private void lay() {
    keeper.write(
        kept -> {
          kept.people().insert(ines);
          kept.people().insert(bram);
          return null;
        });
    stage(0, DEVELOPMENT, Stage.Role.DEVELOPMENT);
    stage(1, SITE, Stage.Role.TEST);
    for (String stage : List.of("development", "production")) {
      connection(stage, "database", "postgresql");
      connection(stage, "host", "host");
      databases
          .at(stage)
          .table(BAND, column("code", "text"), column("amount", "numeric(6,2)"))
          .row(BAND, row("DAY", "10.00"))
          .row(BAND, row("PEAK", "20.00"));
      hosts.at(stage).put(RULE, rule("1"));
    }
    engine.connections().testSite(ines, SITE);
    engine
        .paths()
        .lay(
            ines,
            new plenzo.core.stage.Path(
                "ordinary", "Ordinary", "development", List.of(Leg.open("production")), 0));
    engine.applications().register(ines, "fares", "Fares", "Tickets", "fares", "ordinary");
  }

  public static Map<String, @Nullable String> row(String code, @Nullable String amount) {
    Map<String, @Nullable String> out = new TreeMap<>();
    out.put("code", code);
    out.put("amount", amount);
    return out;
  }

  /** A rule's document; needs no input. */
  public static String rule(String factor) {
    return rule(factor, null);
  }

  /**
   * @param input name of a declared input, null for none
   */
  public static String rule(String factor, @Nullable String input) {
    return Json.object(
            "format",
            1,
            "kind",
            "rule",
            "name",
            "fares.peak",
            "title",
            "Peak",
            "references",
            List.of(),
            "inputs",
            input == null
                ? List.of()
                : List.of(
                    (Object)
                        Json.object(
                            "name", input, "type", "address", "description", "", "secret", false)),
            "definition",
            Json.object("factor", factor))
        .canonical();
  }

  private void stage(int position, SiteKey site, Stage.Role role) {
    boolean changes = role != Stage.Role.DEVELOPMENT;
    engine
        .stages()
        .save(
            ines,
            new Stage(
                site.stage(),
                site.stage(),
                role,
                position,
                "UTC",
                /* driftCloses= */ false,
                List.of(
                    new Stage.Site(
                        site.site(),
                        List.of(
                            target("database", "postgresql", changes),
                            target("host", "host", changes)))),
                0));
  }

  private static Stage.Target target(String key, String sort, boolean changes) {
    return target(key, key, sort, changes);
  }

  private static Stage.Target target(String key, String connection, String sort, boolean changes) {
    boolean database = sort.equals("postgresql");
    return new Stage.Target(
        null,
        key,
        sort,
        database ? List.of("fares") : List.of(),
        connection,
        changes ? connection : "",
        database && changes ? connection : "");
  }

  private void connection(String stage, String name, String sort) {
    connect(stage, name, sort, stage);
  }

  private void connect(String stage, String name, String sort, String leadsTo) {
    engine.connections().save(ines, connection(stage, name, sort, leadsTo), "secret");
  }

  /** A connection that leads to the scripted target of that name. */
  public static Connection connection(String stage, String name, String sort, String leadsTo) {
    return connection(stage, name, sort, leadsTo, 0);
  }

  /**
   * @param revision that it has now, 0 for a new one
   */
  public static Connection connection(
      String stage, String name, String sort, String leadsTo, int revision) {
    return new Connection(
        stage, name, sort, leadsTo, 5432, leadsTo, "", "account", "disable", Map.of(), List.of(),
        false, null, null, null, revision);
  }

  public Engine engine() {
    return engine;
  }

  public ScriptedDatabase.Base production() {
    return databases.at("production");
  }

  public ScriptedDatabase.Base development() {
    return databases.at("development");
  }

  public ScriptedItems.Place host() {
    return hosts.at("production");
  }

  /** What the service does every few seconds about what starts without anybody. */
  public void startWhatIsDue() {
    engine.schedules().goOn();
    engine.repeats().goOn();
    engine.chain().goOn();
    engine.errands().goOn();
  }

  /** What it does every few seconds about who is to be told. */
  public void tell() {
    engine.calls().goOn();
    engine.deliveries().goOn();
  }

  /** Does what waits in the background, and what that leaves. */
  public EngineKit settleDown() {
    while (!later.isEmpty()) {
      later.remove().run();
    }
    return this;
  }

  /** What waits in the background is never done. */
  public void forgetWork() {
    later.clear();
  }

  /** The service is gone and starts again; what it had in memory or in the background is lost. */
  public EngineKit restart() {
    later.clear();
    keeper.close();
    keeper = open(folder);
    engine = build();
    return this;
  }

  /** Another copy of the records takes the place of these; the service starts with them. */
  public EngineKit restart(Path records) {
    later.clear();
    keeper.close();
    copy(records, folder.resolve("records.mv.db"));
    keeper = open(folder);
    engine = build();
    return this;
  }

  /** A copy of the records as they are now. */
  public Path copyOfRecords(Path to) {
    keeper.close();
    copy(folder.resolve("records.mv.db"), to);
    keeper = open(folder);
    engine = build();
    return to;
  }

  private static void copy(Path from, Path to) {
    try {
      java.nio.file.Files.copy(from, to, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    } catch (java.io.IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  /** How many runs could not be settled. */
  public int recover() {
    int open = engine.runs().recover();
    settleDown();
    return open;
  }

  private static List<Adoption.Pick> picks(List<String> keys) {
    return keys.stream()
        .map(k -> new Adoption.Pick(ComponentKey.of(k), null, /* generatedKeyConfirmed= */ true))
        .toList();
  }

  public static final List<String> ALL = List.of("table/" + BAND, "records/" + BAND, RULE);

  /** What production holds becomes 1.0.0. */
  public EngineKit adopt(String... keys) {
    engine
        .adoption()
        .adopt(
            ines,
            "fares",
            SITE,
            new SemVer("1.0.0"),
            "Was there",
            picks(keys.length == 0 ? ALL : List.of(keys)));
    return this;
  }

  /** A connection of production that is lent to fares, with a secret; again with another one. */
  public void lend(String name, String secret) {
    lend(name, secret, List.of("fares"));
  }

  public void lend(String name, String secret, List<String> to) {
    int seen =
        read(
            kept ->
                kept.connections().find("production/" + name).map(Connection::revision).orElse(0));
    engine
        .connections()
        .save(
            ines,
            new Connection(
                "production",
                name,
                "host",
                "production",
                5432,
                "production",
                "",
                "account",
                "disable",
                Map.of(),
                to,
                false,
                null,
                null,
                null,
                seen),
            secret);
  }

  /** Another site of production, on targets of its own that hold the same. */
  public SiteKey site(String name) {
    connect("production", "database-" + name, "postgresql", name);
    connect("production", "host-" + name, "host", name);
    databases
        .at(name)
        .table(BAND, column("code", "text"), column("amount", "numeric(6,2)"))
        .row(BAND, row("DAY", "10.00"))
        .row(BAND, row("PEAK", "20.00"));
    hosts.at(name).put(RULE, rule("1"));
    Stage old = engine.stages().get(ines, "production");
    List<Stage.Site> sites = new ArrayList<>(old.sites());
    sites.add(
        new Stage.Site(
            name,
            List.of(
                target("database", "database-" + name, "postgresql", true),
                target("host", "host-" + name, "host", true))));
    engine.stages().save(ines, old.with(sites));
    SiteKey site = new SiteKey("production", name);
    engine.connections().testSite(ines, site);
    return site;
  }

  /** A stage behind production on the ordinary path, on targets of its own that hold the same. */
  public SiteKey stageAfter(String name, Stage.Role role, Leg leg) {
    SiteKey site = new SiteKey(name, "main");
    stage(2, site, role);
    connect(name, "database", "postgresql", name);
    connect(name, "host", "host", name);
    databases
        .at(name)
        .table(BAND, column("code", "text"), column("amount", "numeric(6,2)"))
        .row(BAND, row("DAY", "10.00"))
        .row(BAND, row("PEAK", "20.00"));
    hosts.at(name).put(RULE, rule("1"));
    engine.connections().testSite(ines, site);
    plenzo.core.stage.Path old = engine.paths().list().get(0);
    List<Leg> legs = new ArrayList<>(old.legs());
    legs.add(leg);
    engine
        .paths()
        .change(ines, new plenzo.core.stage.Path(old.key(), old.name(), old.source(), legs, 0));
    return site;
  }

  /** The same is there as at a site of which it is recorded. */
  public void matchAt(SiteKey site) {
    engine.adoption().match(ines, "fares", site, new SemVer("1.0.0"));
  }

  /** Seals what development holds of the components; whatever is gone there is a removal. */
  public Version seal(String number, String... keys) {
    return sealFrom(number, null, keys);
  }

  public Version sealFrom(String number, @Nullable String from, String... keys) {
    return sealFrom(number, from, List.of(), keys);
  }

  /**
   * @param manual what people do when it comes to a site
   */
  public Version sealFrom(
      String number, @Nullable String from, List<ManualStep> manual, String... keys) {
    String draft = draft(from, keys);
    return engine
        .drafts()
        .seal(
            ines,
            draft,
            new Drafts.Statement(new SemVer(number), number, "", null, List.of(), manual));
  }

  /** A draft of what development holds of the components, checked. */
  public String draft(@Nullable String from, String... keys) {
    var begun = engine.drafts().start(ines, "fares", from == null ? null : new SemVer(from));
    List<String> wanted = keys.length == 0 ? ALL : List.of(keys);
    List<String> there =
        engine
            .sources()
            .against(ines, "fares", DEVELOPMENT, begun.from(), true)
            .components()
            .stream()
            .filter(c -> !c.state().equals("gone"))
            .map(c -> c.key().toString())
            .filter(wanted::contains)
            .toList();
    engine.drafts().add(ines, begun.id(), DEVELOPMENT, picks(there));
    List<Removal> gone = engine.drafts().check(ines, begun.id()).gone();
    engine.drafts().removals(ines, begun.id(), gone);
    engine.drafts().check(ines, begun.id());
    return begun.id();
  }

  /** A draft of these components as they are, checked; nothing that is gone is agreed to. */
  public Draft checked(String... keys) {
    return checkedFrom(null, keys);
  }

  public Draft checkedFrom(@Nullable String from, String... keys) {
    Draft begun = engine.drafts().start(ines, "fares", from == null ? null : new SemVer(from));
    engine
        .drafts()
        .add(
            ines,
            begun.id(),
            DEVELOPMENT,
            Stream.of(keys).map(k -> new Adoption.Pick(ComponentKey.of(k), null, true)).toList());
    return engine.drafts().check(ines, begun.id());
  }

  /** Carries a plan out on copies, to its end. */
  public Rehearsal rehearse(Promotion p) {
    Rehearsal begun = engine.rehearsals().start(ines, p.number());
    settleDown();
    return engine.rehearsals().get(ines, begun.number());
  }

  /** Sets the peak fare in development and seals it. */
  public Version sealPeak(String number, String amount) {
    development().row(BAND, row("PEAK", amount));
    return seal(number);
  }

  public Promotion prepare(String number) {
    long p = engine.promotions().prepare(ines, "fares", new SemVer(number), SITE, "").number();
    settleDown();
    return promotion(p);
  }

  /** Opens a plan that puts back what is recorded; it is not started. */
  public Promotion putBack(PutBack what) {
    long p = engine.promotions().putBack(ines, "fares", SITE, what, "").number();
    settleDown();
    return promotion(p);
  }

  /** Opens a plan that gives the values of the stage; it is not started. */
  public Promotion giveValues() {
    long p = engine.promotions().giveValues(ines, "fares", SITE, "").number();
    settleDown();
    return promotion(p);
  }

  public Promotion promotion(long number) {
    return engine.promotions().get(ines, number);
  }

  /** Decides every conflict of a component for what comes. */
  public Promotion takeIncoming(Promotion p, String component) {
    engine.promotions().decide(ines, p.number(), Map.of(component, Decision.TAKE_INCOMING));
    settleDown();
    return promotion(p.number());
  }

  /** Queues a run; it begins when the background is done. */
  public Run start(Promotion p) {
    return engine.runs().start(ines, p.number(), p.requirePlan().fingerprint().shown());
  }

  public Run run(Promotion p) {
    Run run = start(p);
    settleDown();
    return run(run.number());
  }

  public Promotion prepare(String number, SiteKey site) {
    long p = engine.promotions().prepare(ines, "fares", new SemVer(number), site, "").number();
    settleDown();
    return promotion(p);
  }

  public SiteRecord record(SiteKey site) {
    return engine.standing().record(ines, "fares", site);
  }

  /** Prepares and runs. */
  public Run bring(String number) {
    return run(prepare(number));
  }

  /** Prepares and runs until a script kills the service. */
  public long bringUntilKilled(String number) {
    return runUntilKilled(prepare(number));
  }

  public long runUntilKilled(Promotion p) {
    Run run = start(p);
    try {
      settleDown();
    } catch (Killed e) {
      return run.number();
    }
    throw new IllegalStateException("Nothing killed the run");
  }

  public Run run(long number) {
    return engine.runs().get(ines, number);
  }

  public SiteRecord record() {
    return engine.standing().record(ines, "fares", SITE);
  }

  public List<Rollbacks.Option> ways() {
    return ways(Map.of());
  }

  /**
   * @param choices by the place of an obstacle or of one of its rows
   */
  public List<Rollbacks.Option> ways(Map<String, Decision> choices) {
    return engine.rollbacks().ways(ines, "fares", SITE, new Rollbacks.Wish(null, choices));
  }

  public Rollbacks.Option way(Plan.Way way) {
    return way(way, Map.of());
  }

  public Rollbacks.Option way(Plan.Way way, Map<String, Decision> choices) {
    return ways(choices).stream().filter(o -> o.way() == way).findFirst().orElseThrow();
  }

  /** Opens a rollback; it is not started. */
  public Promotion back(Plan.Way way) {
    return back(way, Map.of());
  }

  public Promotion back(Plan.Way way, Map<String, Decision> choices) {
    String seen = String.valueOf(way(way, choices).fingerprint());
    Promotion p =
        engine
            .rollbacks()
            .start(ines, "fares", SITE, way, new Rollbacks.Wish(null, choices), "test", seen);
    settleDown();
    return promotion(p.number());
  }

  /** The same to a version of before the last good one. */
  public Promotion back(Plan.Way way, String version) {
    Rollbacks.Wish wish = new Rollbacks.Wish(new SemVer(version), Map.of());
    String seen =
        engine.rollbacks().ways(ines, "fares", SITE, wish).stream()
            .filter(o -> o.way() == way)
            .map(o -> String.valueOf(o.fingerprint()))
            .findFirst()
            .orElseThrow();
    Promotion p = engine.rollbacks().start(ines, "fares", SITE, way, wish, "test", seen);
    settleDown();
    return promotion(p.number());
  }

  public List<String> rules(Promotion p) {
    return p.findings().stream().map(f -> f.severity() + " " + f.rule()).toList();
  }

  /** Events of the history, newest first. */
  public List<HistoryEntry> history() {
    return keeper.read(kept -> kept.history(Kept.HistoryFilter.part(0, 1000)));
  }

  public <T> T read(java.util.function.Function<Kept, T> work) {
    return keeper.read(work);
  }

  public <T> T write(java.util.function.Function<Kept, T> work) {
    return keeper.write(work);
  }

  public void probe(String name, String question, boolean mustStay) {
    probe(new Probe(name, question, mustStay));
  }

  public void probe(Probe asked) {
    Application a = engine.applications().get(ines, "fares");
    List<Probe> all = new ArrayList<>(a.probes());
    all.add(asked);
    engine
        .applications()
        .change(
            ines, "fares", new Applications.Facts(null, null, null, null, null, null, all), null);
  }

  /** The set-up with one target under another name. */
  public Stage rename(String target, String name) {
    Stage old = engine.stages().get(ines, SITE.stage());
    List<Stage.Target> targets =
        old.sites().get(0).targets().stream()
            .map(
                t ->
                    t.key().equals(target)
                        ? new Stage.Target(
                            t.id(),
                            name,
                            t.sort(),
                            t.schemas(),
                            t.looking(),
                            t.changing(),
                            t.scratch())
                        : t)
            .toList();
    return engine.stages().save(ines, with(old, targets));
  }

  /** From now on the way to production asks this; open promotions are judged by it. */
  public void asks(Leg leg) {
    plenzo.core.stage.Path old = engine.paths().list().get(0);
    engine
        .paths()
        .change(
            ines,
            new plenzo.core.stage.Path(
                old.key(), old.name(), old.source(), List.of(leg), old.revision()));
    settleDown();
  }

  /** From now on these accounts are kept out of production's database while a version comes. */
  public Stage keepOut(Doors doors) {
    Stage old = engine.stages().get(ines, SITE.stage());
    List<Stage.Target> targets =
        old.sites().get(0).targets().stream()
            .map(
                t ->
                    t.sort().equals("postgresql")
                        ? new Stage.Target(
                            t.id(),
                            t.key(),
                            t.sort(),
                            t.schemas(),
                            t.looking(),
                            t.changing(),
                            t.scratch(),
                            doors)
                        : t)
            .toList();
    return engine.stages().save(ines, with(old, targets));
  }

  public static Stage with(Stage old, List<Stage.Target> targets) {
    return old.with(List.of(new Stage.Site(SITE.site(), targets)));
  }

  @Override
  public void close() {
    keeper.close();
  }
}
