package plenzo.engine.promoting;

import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.carrying.CarryOver;
import plenzo.core.comparison.Decision;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.drift.PutBack;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.impact.Rules;
import plenzo.core.item.DefinitionMerge;
import plenzo.core.object.ObjectDelta;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.Sheet;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.table.Conversions;
import plenzo.core.table.Exchanges;
import plenzo.core.table.Renaming;
import plenzo.core.target.Connector;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.Question;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;
import plenzo.core.version.Ancestry;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.way.Obstacle;
import plenzo.core.way.Unfit;
import plenzo.engine.Tools;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.backup.BackupIncoming;
import plenzo.engine.binding.Bindings;
import plenzo.engine.binding.Gift;
import plenzo.engine.checking.Checks;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.Comparer;
import plenzo.engine.comparing.InUse;
import plenzo.engine.comparing.Incoming;
import plenzo.engine.comparing.Losses;
import plenzo.engine.comparing.PutBackIncoming;
import plenzo.engine.comparing.ReturningIncoming;
import plenzo.engine.comparing.SavedIncoming;
import plenzo.engine.comparing.VersionIncoming;
import plenzo.engine.content.Contents;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.SiteNumbers;
import plenzo.engine.setup.Targets;

/** Compares, checks and plans one promotion at its site. Changes no record. */
public final class CaseWork {
  private static final int MOVED_LINES = 20;

  private final Tools tools;
  private final Targets targets;
  private final Contents contents;
  private final Comparer comparer;
  private final Bindings bindings;
  private final Checks checks;
  private final Gates gates;
  private final Cover cover;
  private final CaseReading reading;
  private final CaseVersions versions;
  private final CasePaths paths;
  private final BoundTo boundTo;
  private final CarriedOver carried;
  private final SiteNumbers numbers;

  public CaseWork(
      Tools tools,
      Targets targets,
      Contents contents,
      Comparer comparer,
      Bindings bindings,
      Checks checks) {
    this(tools, targets, contents, comparer, bindings, checks, /* trial= */ null);
  }

  /**
   * @param trial a version that is not sealed and is treated as if it were; null for none
   */
  private CaseWork(
      Tools tools,
      Targets targets,
      Contents contents,
      Comparer comparer,
      Bindings bindings,
      Checks checks,
      @Nullable Version trial) {
    this.checks = checks;
    this.tools = tools;
    this.targets = targets;
    this.contents = contents;
    this.comparer = comparer;
    this.bindings = bindings;
    this.versions = new CaseVersions(tools, contents, trial);
    this.paths = new CasePaths(tools, targets);
    this.carried = new CarriedOver(tools);
    this.numbers = new SiteNumbers(tools);
    this.gates = new Gates(tools, targets, this);
    this.boundTo = new BoundTo(targets, gates, paths, versions);
    this.cover = new Cover(tools);
    this.reading = new CaseReading(tools, targets, comparer, bindings, this);
  }

  /** The same, for which a version that is not sealed is one among the others. */
  public CaseWork with(Version unsealed) {
    return new CaseWork(tools, targets, contents, comparer, bindings, checks, unsealed);
  }

  CaseVersions versions() {
    return versions;
  }

  public CasePaths paths() {
    return paths;
  }

  public BoundTo boundTo() {
    return boundTo;
  }

  SiteNumbers numbers() {
    return numbers;
  }

  /**
   * A site as if tables and columns had their names of afterwards.
   *
   * @param from the version by whose names things are called there before
   */
  private SiteLook renamed(Promotion p, SiteLook look, Renaming wanted, SemVer from) {
    return look.renamed(wanted, () -> exchanges(p, look, from));
  }

  /** Tells of names that change places whether they did at a site. */
  Exchanges exchanges(Promotion p, SiteLook look, SemVer from) {
    return numbers.exchanges(
        p.application(),
        p.site(),
        from,
        look.tables(),
        (was, is) -> versions.names(p.application(), was, is));
  }

  /** The version by whose names things are called at a site before a case is carried out. */
  private SemVer before(Promotion p, SiteRecord record) {
    Run half =
        p.bringsBack() ? tools.keeper().read(kept -> kept.halfWritten(record)).orElse(null) : null;
    return half == null ? Objects.requireNonNull(record.present()) : new SemVer(half.version());
  }

  CarriedOver carried() {
    return carried;
  }

  public Gates gates() {
    return gates;
  }

  /** How many checks a case goes through. */
  public int checks() {
    return Rules.count() + checks.count();
  }

  /**
   * What came of comparing, checking and planning once.
   *
   * @param coveredBy the promotion whose approvals cover a rollback as it stands, or null
   * @param decisions what was decided, with the rows named that a choice for all of them means
   * @param obstacles what is in the way of a rollback, with the choices that remove it
   * @param gift what the host is given; nothing when the site has none
   * @param carryOver what becomes of the values of tables whose structure changes
   */
  public record Outcome(
      Compared compared,
      SiteDelta delta,
      List<Finding> findings,
      Plan plan,
      @Nullable SemVer present,
      @Nullable SemVer base,
      Losses.Lost loss,
      @Nullable String coveredBy,
      Map<String, Decision> decisions,
      List<Obstacle> obstacles,
      Gift gift,
      CarryOver carryOver) {
    /** The same with more findings; those are no part of the plan. */
    Outcome finding(List<Finding> more) {
      if (more.isEmpty()) {
        return this;
      }
      List<Finding> all = new ArrayList<>(findings);
      all.addAll(more);
      return new Outcome(
          compared, delta, all, plan, present, base, loss, coveredBy, decisions, obstacles, gift,
          carryOver);
    }
  }

  Contents contents() {
    return contents;
  }

  public Comparer comparer() {
    return comparer;
  }

  public SiteRecord record(String application, SiteKey site) {
    return tools
        .keeper()
        .read(kept -> kept.sites().find(application + "@" + site))
        .orElse(SiteRecord.none(application, site));
  }

  /** What a case brings to its site as it is recorded now. */
  public Incoming incoming(Promotion p) {
    return incoming(
        p, record(p.application(), p.site()), versions.version(p.application(), p.version()));
  }

  /** The name space of an application. */
  public String space(String application) {
    return paths.application(application).schema();
  }

  /** What the promotion brings to the site, over what Plenzo recorded there. */
  Incoming incoming(Promotion p, SiteRecord record, Version incoming) {
    SemVer present = record.present();
    if (present == null) {
      throw Problem.stopped(
          "NOT_DECLARED",
          p.application()
              + " is not recorded at "
              + p.site()
              + ", so there is nothing to compare with.",
          "plenzo app adopt " + p.application() + " --site " + p.site());
    }
    if (p.bringsBack()) {
      return wayBack(p, record, incoming).incoming();
    }
    if (!p.brings()) {
      requirePresent(p, present);
      VersionIncoming there = new VersionIncoming(contents, incoming, incoming, Set.of());
      PutBack what = p.putBack();
      if (what != null && !what.again().isEmpty()) {
        return new SavedIncoming(contents, what.again());
      }
      return what == null
          ? there.structures()
          : new PutBackIncoming(there, what, record.settled(tools.now()));
    }
    Ancestry ancestry = versions.ancestry(p.application());
    Version base =
        ancestry
            .base(p.version(), present)
            .map(head -> versions.version(p.application(), head.number()))
            .orElse(null);
    return new VersionIncoming(
        contents,
        incoming,
        base,
        versions.removals(ancestry, p, base),
        versions.renaming(p.application(), present, p.version()),
        base == null
            ? Renaming.NONE
            : versions.renaming(p.application(), base.number(), p.version()),
        base == null
            ? Conversions.NONE
            : versions.worked(ancestry, p.application(), base.number(), p.version()));
  }

  /** Putting back and giving values are about what is there, and over when something else is. */
  private static void requirePresent(Promotion p, SemVer present) {
    if (!present.equals(p.version())) {
      throw Problem.stopped(
          "NOT_PRESENT",
          present + " is at " + p.site() + " by now, and " + p.version() + " no more.",
          "Withdraw " + p.shown() + ", and look again");
    }
  }

  private WayBack wayBack(Promotion p, SiteRecord record, Version to) {
    Run half = tools.keeper().read(kept -> kept.halfWritten(record)).orElse(null);
    SemVer leaving = before(p, record);
    return new WayBack(
        tools,
        contents,
        comparer,
        p,
        record,
        half,
        versions.version(p.application(), leaving),
        to,
        from -> versions.renaming(p.application(), from, to.number()),
        versions.undoing(p.application(), leaving, to.number()));
  }

  /** Looks at the site and works everything out; reads only. */
  public Outcome work(Promotion p) {
    List<Targets.At> ats = targets.all(p.site());
    SiteRecord record = record(p.application(), p.site());
    Version version = versions.version(p.application(), p.version());
    WayBack back = p.bringsBack() && record.present() != null ? wayBack(p, record, version) : null;
    Incoming incoming = back != null ? back.incoming() : incoming(p, record, version);
    try (SiteLook found = targets.look(ats)) {
      SemVer before = before(p, record);
      SiteLook look = renamed(p, found, incoming.renaming(), before);
      Choosing chosen =
          back == null
              ? new Choosing(
                  compare(p, look, ats, incoming, p.decisions()),
                  p.decisions(),
                  List.of(),
                  List.of())
              : choosing(p, back, look, ats);
      Compared compared = chosen.compared();
      Gift gift = bindings.gift(p, version, record);
      SiteDelta delta = compared.delta(p.activate(), gift.changes());
      List<Finding> findings =
          new ArrayList<>(
              Rules.run(
                  Rules.TABLES,
                  reading.tables(
                      p,
                      incoming,
                      compared,
                      delta.tables(),
                      found,
                      incoming.renaming().reuses()
                          ? exchanges(p, found, before)
                          : Exchanges.all(Exchanges.Progress.NOT_KNOWN),
                      look)));
      findings.addAll(Rules.run(Rules.ITEMS, reading.items(p, version, compared, delta, look)));
      Version base = p.brings() && incoming instanceof VersionIncoming v ? v.base() : null;
      findings.addAll(
          Rules.run(
              Rules.CASE, reading.facts(p, ats, look, record, version, base, compared, delta)));
      if (p.brings()) {
        arriving(version, delta, findings);
      }
      Losses.Lost loss =
          back != null ? back.loss(compared, delta, look, findings) : Losses.Lost.NONE;
      List<Obstacle> obstacles =
          back == null ? List.of() : back.obstacles(chosen, compared, findings);
      if (p.brings()) { // no stage closes a way back by a severity of its own
        findings.replaceAll(targets.stage(p.site())::weigh);
      }
      findings.replaceAll(f -> remembered(p, f));
      findings.sort(
          java.util.Comparator.comparing(Finding::severity)
              .thenComparing(java.util.Comparator.comparing(Finding::count).reversed())
              .thenComparing(Finding::id));
      Plan plan =
          new Planner(targets, ats, p, version)
              .plan(
                  new Planner.Facts(
                      Objects.requireNonNull(record.present()),
                      compared.components(),
                      compared.fittedDigests(),
                      findings,
                      delta,
                      keyless(delta.tables(), look),
                      held(delta.tables(), look, ats),
                      gift.stamps(),
                      bindings.knowsNow(record),
                      boundTo.questions(p.application(), p.site()),
                      boundTo.inForce(p),
                      chosen.decisions(),
                      boundTo.manual(p, base),
                      p.brings() ? paths.leg(p).closing().before() : 0,
                      LockTimes.of(tools, p.site(), delta.tables(), look),
                      hostCan(look)));
      return new Outcome(
          compared,
          delta,
          findings,
          plan,
          record.present(),
          base == null ? null : base.number(),
          loss,
          p.rollback() ? cover.of(p, record, loss.rows()) : null,
          chosen.decisions(),
          obstacles,
          gives(delta) ? gift : Gift.NONE,
          CarriedOver.of(p, incoming, compared, delta.tables(), look));
    }
  }

  /** A comparison with what was chosen about what goes and is used, and about what does not fit. */
  record Choosing(
      Compared compared,
      Map<String, Decision> decisions,
      List<Obstacle.Use> uses,
      List<Unfit> unfit) {}

  /**
   * Compares a way back twice when something is to stay: first to see all that would go, so that
   * every choice is shown and can be changed, then with what was chosen.
   */
  private Choosing choosing(Promotion p, WayBack back, SiteLook look, List<Targets.At> ats) {
    Map<String, Decision> all = new TreeMap<>(p.decisions());
    all.values().removeIf(d -> d == Decision.KEEP);
    Compared compared = compare(p, look, ats, back.incoming(), all);
    List<Obstacle.Use> uses = back.inUse(compared, look);
    List<Unfit> unfit = back.unfit(compared, look);
    Map<String, Decision> named = InUse.named(uses, p.decisions());
    if (!named.equals(all)) {
      comparer.files().remove(compared.id());
      compared = compare(p, look, ats, back.incoming(), named);
    }
    return new Choosing(back.fit(compared, look, named), named, uses, unfit);
  }

  private static List<TableName> keyless(TablesDelta delta, SiteLook look) {
    return delta.tables().stream()
        .filter(
            t ->
                t.present() != null
                    && look.tables()
                        .table(t.table())
                        .filter(
                            there -> BackupFile.key(look.tables(), there, t, Map.of()).isEmpty())
                        .isPresent())
        .map(TablesDelta.TableDelta::table)
        .filter(t -> look.tables().answer(Question.of(Question.Type.ROWS, t)).count() > 0)
        .toList();
  }

  /** What is not carried and keeps an object that changes from becoming again what it was. */
  private List<String> held(TablesDelta delta, SiteLook look, List<Targets.At> ats) {
    List<String> schemas =
        ats.stream().flatMap(at -> targets.schemas(at.target()).stream()).distinct().toList();
    List<String> out = new ArrayList<>();
    for (ObjectDelta o : delta.objects()) {
      if (o.goesOnReturn()) {
        Question.Answer a = look.tables().answer(Question.builtOn(o.becomes().key(), schemas));
        if (a.count() > 0) {
          out.add(a.named("something not carried") + " built on " + o.becomes().shown());
        }
      }
    }
    return out;
  }

  /**
   * What a site holds against what a promotion brings, without rules and plan.
   *
   * @param delta what would still be written; bindings are not asked about
   */
  record Seen(Compared compared, SiteDelta delta) {}

  Seen see(Promotion p, SiteLook look, List<Targets.At> ats, Incoming incoming) {
    SiteRecord record = record(p.application(), p.site());
    Compared compared =
        comparer.compare(
            renamed(p, look, incoming.renaming(), before(p, record)),
            schemas(ats),
            paths.application(p.application()).schema(),
            incoming,
            p.decisions(),
            staying(p, record));
    return new Seen(compared, compared.delta(Set.of(), Map.of()));
  }

  /** What is no drift after a run: what its plan keeps, and what was left so for a time. */
  private List<String> staying(Promotion p, SiteRecord record) {
    List<String> out = new ArrayList<>(after(p, record));
    record.left().stream()
        .filter(x -> x.holds(tools.now()) && !settles(p, x.place()))
        .forEach(x -> out.add(x.place()));
    return out;
  }

  private static boolean settles(Promotion p, String place) {
    return p.putBack() != null && p.putBack().places().contains(place);
  }

  /**
   * Places that a plan keeps as they are, by component or part: the site's exceptions from then.
   */
  public static List<String> after(Promotion p, SiteRecord record) {
    Set<String> out = new TreeSet<>(exceptions(p.decisions()));
    if (p.way() == Plan.Way.BACKUP || !p.brings() && !p.bringsBack()) {
      record.exceptions().stream().filter(at -> !settles(p, at)).forEach(out::add);
    }
    return List.copyOf(out);
  }

  /**
   * Keeps what a run foresees of the schemas it touches, to compare with afterwards, and what the
   * host will hold.
   */
  public void foreseen(long run, Outcome out) {
    if (!out.gift().changes().isEmpty()) {
      bindings.keep(run, out.gift());
    }
    new AfterRun(tools, targets, this).foreseen(run, out);
  }

  /**
   * What going back by the earlier version would bring right after this plan was carried out.
   *
   * @param before what was backed up before it was
   */
  public Incoming earlierAfter(Promotion p, Outcome out, BackupIncoming before) {
    Version leaving = versions.version(p.application(), p.version());
    Version to = versions.version(p.application(), Objects.requireNonNull(out.present()));
    Renaming back = versions.renaming(p.application(), leaving.number(), to.number());
    Map<String, SiteRecord.Base> bases = new TreeMap<>(record(p.application(), p.site()).bases());
    try (SiteLook look = targets.look(p.site())) {
      bases.putAll(
          new FirstCarried(tools, contents)
              .now(
                  renamed(p, look, back.inverse(), to.number()),
                  out.compared(),
                  FirstCarried.of(to.named(back.inverse()), leaving),
                  back.inverse()));
    }
    return new ReturningIncoming(
        contents,
        to,
        leaving,
        bases,
        before::table,
        back,
        WayBack.mirrored(leaving, back),
        versions.undoing(p.application(), leaving.number(), to.number()));
  }

  /** What this host can do beside what every host can. */
  private static Set<Connector.Capability> hostCan(SiteLook look) {
    Set<Connector.Capability> out = new TreeSet<>();
    look.findItems(Kind.Holder.HOST)
        .ifPresent(
            host -> {
              if (host.refreshes()) {
                out.add(Connector.Capability.REFRESH);
              }
              if (host.spaces()) {
                out.add(Connector.Capability.SCRATCH);
              }
            });
    return out;
  }

  /** Keeps what is there of components that the run carries for the first time. */
  public void firstCarried(Promotion p, long run, Outcome out) {
    if (!p.brings()) {
      return;
    }
    SemVer present = Objects.requireNonNull(out.present());
    Renaming names = versions.renaming(p.application(), present, p.version());
    List<VersionEntry> first =
        FirstCarried.of(
            versions.version(p.application(), present).named(names),
            versions.version(p.application(), p.version()));
    if (first.isEmpty()) {
      return; // the site is not looked at once more for nothing
    }
    try (SiteLook look = targets.look(p.site())) {
      new FirstCarried(tools, contents)
          .keep(run, renamed(p, look, names, present), out.compared(), first, names);
    }
  }

  public Map<String, SiteRecord.Base> bases(long run) {
    return new FirstCarried(tools, contents).kept(run);
  }

  /** What stood at a run's site when it had been read back; empty when it was not. */
  public Optional<Sheet> sheet(long run) {
    return new AfterRun(tools, targets, this).sheet(run);
  }

  /** What a site holds after a run, against what was planned. */
  public AfterRun.Found after(Promotion p, long run) {
    return new AfterRun(tools, targets, this).look(p, run);
  }

  /** Checks of the content that arrives; what is only worth a note was noted at sealing. */
  private void arriving(Version version, SiteDelta delta, List<Finding> findings) {
    Set<ComponentKey> arriving = new TreeSet<>();
    delta.itemDeltas().stream()
        .flatMap(d -> d.changes().stream())
        .filter(c -> c.incoming() != null)
        .forEach(c -> arriving.add(c.key()));
    for (TablesDelta.TableDelta t : delta.tables().tables()) {
      if (t.structureChanges()) {
        arriving.add(new ComponentKey(Kind.TABLE, t.table().componentName()));
      }
      if (t.rows() != null) {
        arriving.add(new ComponentKey(Kind.RECORDS, t.table().componentName()));
      }
    }
    for (ComponentKey key : arriving) {
      version
          .entry(key)
          .ifPresent(
              e ->
                  checks.check(
                      key,
                      e.content(),
                      f -> {
                        if (f.severity() != Severity.NOTE) {
                          findings.add(f);
                        }
                      }));
    }
  }

  private Compared compare(
      Promotion p,
      SiteLook look,
      List<Targets.At> ats,
      Incoming incoming,
      Map<String, Decision> decisions) {
    return comparer.compare(
        look,
        schemas(ats),
        paths.application(p.application()).schema(),
        incoming,
        decisions,
        List.of());
  }

  /** The schemas of a site's database that Plenzo looks at. */
  public List<String> schemasAt(SiteKey site) {
    return schemas(targets.all(site));
  }

  static List<String> schemas(List<Targets.At> ats) {
    return ats.stream().flatMap(at -> at.target().schemas().stream()).toList();
  }

  public Bindings bindings() {
    return bindings;
  }

  /** Every value that a rollback would lose, as CSV lines. */
  public void lost(Promotion p, Consumer<String> line) {
    List<Targets.At> ats = targets.all(p.site());
    SiteRecord record = record(p.application(), p.site());
    Version version = versions.version(p.application(), p.version());
    WayBack back = wayBack(p, record, version);
    try (SiteLook found = targets.look(ats)) {
      SiteLook look = renamed(p, found, back.incoming().renaming(), before(p, record));
      Compared compared = choosing(p, back, look, ats).compared();
      try {
        back.lost(compared, compared.delta(p.activate(), Map.of()), look, line);
      } finally {
        comparer.files().remove(compared.id());
      }
    }
  }

  /** An acceptance and a ceiling hold as long as the count stays below it. */
  private Finding remembered(Promotion p, Finding f) {
    Finding old =
        p.findings().stream()
            .filter(x -> x.id().equals(f.id()) && x.severity() == f.severity())
            .findFirst()
            .orElse(null);
    boolean holds = old != null && f.count() <= old.ceiling();
    Finding.Acceptance acceptance = p.acceptances().get(f.id());
    boolean valid =
        acceptance != null
            && (old == null || holds)
            && acceptance.until().isAfter(LocalDate.ofInstant(tools.now(), ZoneOffset.UTC));
    Finding now = holds ? f.upTo(old.ceiling()) : f;
    return valid ? now.accept(acceptance) : now;
  }

  /** What an outcome found, as a case file keeps it. */
  public Promotion.Look look(Outcome out) {
    return new Promotion.Look(
        out.present(),
        out.base(),
        out.compared().id(),
        tools.now(),
        out.compared().components(),
        out.compared().sameFiles(),
        out.gift().shown(),
        out.obstacles());
  }

  /** Whether there is a host that is given values. */
  private static boolean gives(SiteDelta delta) {
    ItemsDelta host = delta.items().get(Kind.Holder.HOST);
    return host != null && !host.bindings().isEmpty();
  }

  /** Which values moved between two comparisons: named, never shown. */
  private static List<String> valuesMoved(List<Promotion.Gives> was, List<Promotion.Gives> is) {
    Map<String, Promotion.Gives> before = new TreeMap<>();
    was.forEach(g -> before.put(g.input(), g));
    List<String> out = new ArrayList<>();
    for (Promotion.Gives g : is) {
      Promotion.Gives old = before.remove(g.input());
      if (old == null) {
        out.add("The value of " + g.input() + " is to be given now");
      } else if (!Objects.equals(old.setAt(), g.setAt()) || !old.from().equals(g.from())) {
        out.add("The value of " + g.input() + " was set anew");
      }
    }
    before.keySet().forEach(input -> out.add("The value of " + input + " is given no more"));
    return out;
  }

  /** Puts an outcome into the case file; approvals of another plan fall, with what moved. */
  public Promotion apply(Promotion p, Outcome out) {
    carried.keep(p, out.carryOver());
    List<String> moved = p.moved();
    List<Promotion.Approval> approvals = p.approvals();
    String now = out.plan().fingerprint().digest().hex();
    boolean samePlan = p.plan() != null && p.plan().fingerprint().digest().hex().equals(now);
    if (p.plan() != null && !samePlan) {
      moved = valuesMoved(p.gives(), out.gift().shown());
      moved.addAll(out.plan().asksOtherwiseThan(p.requirePlan()));
      if (p.comparison() != null) {
        moved.addAll(
            comparer.moved(
                p.comparison(), p.components(), out.compared(), MOVED_LINES - moved.size()));
      }
      boolean agreed = approvals.stream().anyMatch(a -> a.voidBecause() == null);
      if (moved.isEmpty() && agreed) {
        moved = List.of("The findings, decisions or bindings of the plan changed");
      }
      String because = String.join("; ", moved);
      approvals =
          approvals.stream().map(a -> a.voidBecause() != null ? a : a.fallen(because)).toList();
    }
    String old = p.comparison();
    Promotion next =
        p.change()
            .state(PromotionState.READY)
            .compared(look(out))
            .coveredBy(out.coveredBy())
            .decisions(out.decisions())
            .findings(out.findings())
            .plan(out.plan())
            .approvals(approvals)
            .moved(moved)
            .sentence(null)
            .done();
    if (old != null && !old.equals(out.compared().id())) {
      comparer.files().remove(old);
    }
    return next;
  }

  /** Why a promotion has lost its purpose by another one's run; empty when it has not. */
  String overtaken(Promotion p, Promotion ran) {
    if (p.rollback()) {
      return ran.shown() + " ran at " + p.site() + ", so going back begins from there.";
    }
    if (!p.brings()) {
      return p.version().equals(ran.version()) && !ran.rollback()
          ? ""
          : ran.shown() + " brought " + ran.version() + " to " + p.site() + ".";
    }
    if (!ran.brings()) {
      return "";
    }
    if (p.version().equals(ran.version())) {
      return ran.shown() + " brought " + p.version() + " to " + p.site() + ".";
    }
    return versions.ancestry(p.application()).descends(ran.version(), p.version())
        ? ran.shown() + " brought " + ran.version() + ", which contains " + p.version() + "."
        : "";
  }

  /** Decisions of a plan, as the site's exceptions once it ran. */
  public static List<String> exceptions(Map<String, Decision> decisions) {
    return decisions.entrySet().stream()
        .filter(e -> e.getValue() != Decision.TAKE_INCOMING)
        .map(Map.Entry::getKey)
        .filter(at -> !Obstacle.forAll(at) && !at.contains(DefinitionMerge.MEMBER))
        .sorted()
        .toList();
  }
}
