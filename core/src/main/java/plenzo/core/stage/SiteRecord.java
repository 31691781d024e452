package plenzo.core.stage;

import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.drift.Left;
import plenzo.core.version.SemVer;

/**
 * What Plenzo recorded about one application at one site: the unit of record.
 *
 * @param present the version that is there
 * @param placements every version that came to be here, oldest first
 * @param exceptions conflicts that were decided "keep", by component and part
 * @param bound when each binding was set that the host was given last (microseconds), by its id
 * @param look what was found at the last look
 * @param bases what was there of each component when a run carried it here for the first time
 * @param left what somebody said stays as it is for now, although it differs
 * @param gave runs that gave the host values and of which it is kept what it held afterwards, the
 *     newest last; 0 stands for a host that was given nothing yet
 * @param owed what emergencies owe that were run here
 * @param closedBy the run or person that let only operators in and has not let everybody in again;
 *     null when nobody did
 */
public record SiteRecord(
    String application,
    SiteKey site,
    @Nullable SemVer present,
    List<Placement> placements,
    List<Verdict> verdicts,
    List<String> exceptions,
    boolean halfWritten,
    @Nullable SemVer rolledBackFrom,
    Look look,
    @Nullable String failed,
    Map<String, Long> bound,
    Map<String, Base> bases,
    List<Left> left,
    @Nullable String closedBy,
    @Nullable List<Long> gave,
    @Nullable List<Owed> owed,
    int revision) {
  /** Runs whose values are kept: one before the last is needed, one more is for a slip. */
  private static final int MOST_GAVE = 3;

  public SiteRecord {
    // a record of before knew none
    gave = gave == null ? List.of() : List.copyOf(gave);
    owed = owed == null ? List.of() : List.copyOf(owed);
    placements = List.copyOf(placements);
    verdicts = List.copyOf(verdicts);
    exceptions = List.copyOf(exceptions);
    bound = Map.copyOf(bound);
    bases = Map.copyOf(bases);
    left = List.copyOf(left);
  }

  /**
   * What was there of a component before the first run that carried it.
   *
   * @param content null when nothing was there
   * @param options canonical key and condition of records, null for the others
   */
  public record Base(@Nullable Digest content, @Nullable String options) {
    public static final Base NOTHING = new Base(null, null);
  }

  /**
   * What a look at the site found: structure is looked at often, rows seldom.
   *
   * @param structure parts of structures that differ from the record, −1 when nobody looked yet
   * @param records rows that differ, −1 when nobody looked yet
   * @param examples a few of them, by component and part
   * @param older a run that a target remembers and the records do not know: they are older than it;
   *     0 when there is none
   * @param list the file that lists all that differs, null when none was written
   */
  public record Look(
      long structure,
      long records,
      List<String> examples,
      @Nullable Instant at,
      boolean reachable,
      long older,
      @Nullable String list) {
    public static final Look NONE = new Look(-1, -1, List.of(), null, true, 0, null);

    public Look {
      examples = List.copyOf(examples);
    }

    /** The same of a site that could not be looked at: what was known stays known. */
    public Look unseen() {
      return new Look(structure, records, examples, at, false, older, list);
    }
  }

  /** Parts and rows that differ from the record, −1 when nobody looked yet. */
  public long drift() {
    return look.structure() < 0 && look.records() < 0
        ? -1
        : Math.max(0, look.structure()) + Math.max(0, look.records());
  }

  /**
   * How a version came here: "adopted", "matched", "run", "rollback" or "put-back"; run is null for
   * the first two.
   *
   * @param toLookAt the newest run of this version here that found something to look at; null when
   *     none did
   */
  public record Placement(
      SemVer version,
      String how,
      @Nullable Long run,
      Instant at,
      String by,
      @Nullable Looked toLookAt) {
    public Placement(SemVer version, String how, @Nullable Long run, Instant at, String by) {
      this(version, how, run, at, by, null);
    }

    /** A run that ended with something to look at. */
    public record Looked(long run, Instant at) {}
  }

  /** When the version that is there came, and did not go since; empty when nothing is there. */
  public Optional<Instant> presentSince() {
    Instant since = null;
    for (Placement p : placements) {
      since = !p.version().equals(present) ? null : since == null ? p.at() : since;
    }
    return Optional.ofNullable(since);
  }

  /**
   * A yes that an emergency owes.
   *
   * @param promotion its number
   * @param until by when it must come
   */
  public record Owed(long promotion, Instant until) {
    public boolean overdue(Instant now) {
      return now.isAfter(until);
    }
  }

  /** What emergencies owe that were run here. */
  @Override
  public List<Owed> owed() {
    return owed == null ? List.of() : owed;
  }

  /** Adds what an emergency owes. */
  public SiteRecord owing(Owed one) {
    List<Owed> all = new ArrayList<>(owed());
    all.add(one);
    return withOwed(all);
  }

  /** The owed yes has come. */
  public SiteRecord owingNoMore(long promotion) {
    return withOwed(owed().stream().filter(o -> o.promotion() != promotion).toList());
  }

  private SiteRecord withOwed(List<Owed> all) {
    return new SiteRecord(
        application,
        site,
        present,
        placements,
        verdicts,
        exceptions,
        halfWritten,
        rolledBackFrom,
        look,
        failed,
        bound,
        bases,
        left,
        closedBy,
        gave,
        all,
        revision);
  }

  /**
   * A person's word about a version at this site.
   *
   * @param evidence numbers of the files that show it
   */
  public record Verdict(
      SemVer version,
      boolean good,
      String reason,
      String by,
      Instant at,
      @Nullable List<Long> evidence) {
    public Verdict {
      // a verdict of before named none
      evidence = evidence == null ? List.of() : List.copyOf(evidence);
    }

    public Verdict(SemVer version, boolean good, String reason, String by, Instant at) {
      this(version, good, reason, by, at, List.of());
    }

    @Override
    public List<Long> evidence() {
      return evidence == null ? List.of() : evidence;
    }
  }

  public static SiteRecord none(String application, SiteKey site) {
    return new SiteRecord(
        application,
        site,
        null,
        List.of(),
        List.of(),
        List.of(),
        false,
        null,
        Look.NONE,
        null,
        Map.of(),
        Map.of(),
        List.of(),
        null,
        List.of(),
        List.of(),
        0);
  }

  /** Runs that gave the host values and of which it is kept what it held afterwards. */
  public List<Long> gave() {
    return gave == null ? List.of() : gave;
  }

  public String id() {
    return application + "@" + site;
  }

  /** How what is present came here; empty when nothing did. */
  public Optional<Placement> lastPlacement() {
    return placements.isEmpty()
        ? Optional.empty()
        : Optional.of(placements.get(placements.size() - 1));
  }

  /** A run that the site remembers and the records do not know; 0 when there is none. */
  public long older() {
    return look.older();
  }

  /** The newest verdict on the version here. */
  public Optional<Verdict> verdict(@Nullable SemVer version) {
    return verdicts.stream().filter(v -> v.version().equals(version)).reduce((a, b) -> b);
  }

  public Condition condition() {
    if (present == null) {
      return Condition.NEVER_HERE;
    }
    if (halfWritten) {
      return Condition.HALF_WRITTEN;
    }
    if (verdict(present).filter(v -> !v.good()).isPresent()) {
      return Condition.JUDGED_BAD;
    }
    if (!look.reachable()) {
      return Condition.NOT_REACHABLE;
    }
    if (drift() > 0 || look.older() > 0) {
      return Condition.DRIFTED;
    }
    if (toLookAt()) {
      return Condition.TO_LOOK_AT;
    }
    return rolledBackFrom != null ? Condition.ROLLED_BACK : Condition.GOOD;
  }

  /** The last run found something to look at, and nobody said since that it is good. */
  private boolean toLookAt() {
    return lastPlacement()
        .filter(
            p ->
                p.toLookAt() != null
                    && verdicts.stream()
                        .noneMatch(
                            v ->
                                v.version().equals(p.version())
                                    && v.at().isAfter(p.toLookAt().at())))
        .isPresent();
  }

  /**
   * The newest version before the present one that ran here and was not judged bad. A version that
   * was gone back from is not before the present one.
   */
  public Optional<SemVer> lastGood() {
    Deque<SemVer> line = new ArrayDeque<>();
    for (Placement p : placements) {
      if (p.how().equals("rollback") && line.contains(p.version())) {
        while (!line.element().equals(p.version())) {
          line.pop();
        }
      } else {
        line.push(p.version());
      }
    }
    return line.stream()
        .filter(v -> !v.equals(present))
        .filter(v -> verdict(v).map(Verdict::good).orElse(true))
        .findFirst();
  }

  /**
   * @param after what was found there when it had come; drift is known until a look finds it gone
   */
  public SiteRecord placed(
      Placement p, List<String> exceptions, @Nullable SemVer rolledBackFrom, Look after) {
    List<Placement> all = new ArrayList<>(placements);
    all.add(p);
    return with(all, exceptions, false, rolledBackFrom, after, null);
  }

  /** What is present is what the last placement brought. */
  private SiteRecord with(
      List<Placement> all,
      List<String> nextExceptions,
      boolean half,
      @Nullable SemVer from,
      Look nextLook,
      @Nullable String nextFailed) {
    return new SiteRecord(
        application,
        site,
        all.get(all.size() - 1).version(),
        all,
        verdicts,
        nextExceptions,
        half,
        from,
        nextLook,
        nextFailed,
        bound,
        bases,
        left,
        closedBy,
        gave,
        owed,
        revision);
  }

  /** Adds what was there before a run that carried components for the first time. */
  public SiteRecord withBases(Map<String, Base> found) {
    Map<String, Base> all = new HashMap<>(bases);
    all.putAll(found);
    return with(verdicts, exceptions, halfWritten, look, failed, bound, all, left, closedBy);
  }

  /** Says of places that they stay as they are; an earlier word on the same place falls. */
  public SiteRecord withLeft(List<Left> said) {
    List<Left> all = new ArrayList<>(left);
    all.removeIf(old -> said.stream().anyMatch(now -> now.place().equals(old.place())));
    all.addAll(said);
    return with(verdicts, exceptions, halfWritten, look, failed, bound, bases, all, closedBy);
  }

  /** Takes back what was said of places. */
  public SiteRecord withoutLeft(Collection<String> places) {
    List<Left> all = left.stream().filter(x -> !places.contains(x.place())).toList();
    return with(verdicts, exceptions, halfWritten, look, failed, bound, bases, all, closedBy);
  }

  /** Places that are no drift for now: kept by a plan, or left for a time. */
  public List<String> settled(Instant now) {
    List<String> out = new ArrayList<>(exceptions);
    left.stream().filter(x -> x.holds(now)).map(Left::place).forEach(out::add);
    return out;
  }

  /** A run that brought no version found something to look at in what is there. */
  public SiteRecord withToLookAt(Placement.Looked found) {
    List<Placement> all = new ArrayList<>(placements);
    Placement last = all.remove(all.size() - 1);
    all.add(new Placement(last.version(), last.how(), last.run(), last.at(), last.by(), found));
    return with(all, exceptions, halfWritten, rolledBackFrom, look, failed);
  }

  public SiteRecord judged(Verdict v) {
    List<Verdict> all = new ArrayList<>(verdicts);
    all.add(v);
    return with(all, exceptions, halfWritten, look, failed, bound, bases, left, closedBy);
  }

  public SiteRecord looked(Look now) {
    return with(verdicts, exceptions, halfWritten, now, failed, bound, bases, left, closedBy);
  }

  public SiteRecord unreachable() {
    return looked(look.unseen());
  }

  /**
   * Adds what a run gave the host.
   *
   * @param inputs those that the version declares: of them the host holds nothing else from then on
   * @param stamps when each binding was set that it holds, by id
   */
  public SiteRecord given(long run, Collection<String> inputs, Map<String, Long> stamps) {
    Map<String, Long> all = new HashMap<>(bound);
    all.keySet().removeIf(id -> inputs.contains(Binding.input(id)));
    all.putAll(stamps);
    List<Long> runs = new ArrayList<>(gave());
    if (runs.isEmpty() && bound.isEmpty()) {
      runs.add(0L);
    }
    runs.add(run);
    List<Long> newest = runs.subList(Math.max(0, runs.size() - MOST_GAVE), runs.size());
    return new SiteRecord(
        application,
        site,
        present,
        placements,
        verdicts,
        exceptions,
        halfWritten,
        rolledBackFrom,
        look,
        failed,
        all,
        bases,
        left,
        closedBy,
        newest,
        owed,
        revision);
  }

  public SiteRecord withHalfWritten() {
    return with(verdicts, exceptions, true, look, failed, bound, bases, left, closedBy);
  }

  public SiteRecord withFailed(@Nullable String run) {
    return with(verdicts, exceptions, halfWritten, look, run, bound, bases, left, closedBy);
  }

  public SiteRecord closedBy(@Nullable String who) {
    return with(verdicts, exceptions, halfWritten, look, failed, bound, bases, left, who);
  }

  /** The same, with places that are no more kept as they are. */
  public SiteRecord withoutExceptions(Collection<String> places) {
    return with(
        verdicts,
        exceptions.stream().filter(e -> !places.contains(e)).toList(),
        halfWritten,
        look,
        failed,
        bound,
        bases,
        left,
        closedBy);
  }

  /** The one place where the fields are listed, beside a placement. */
  private SiteRecord with(
      List<Verdict> nextVerdicts,
      List<String> nextExceptions,
      boolean half,
      Look nextLook,
      @Nullable String nextFailed,
      Map<String, Long> nextBound,
      Map<String, Base> nextBases,
      List<Left> nextLeft,
      @Nullable String nextClosedBy) {
    return new SiteRecord(
        application,
        site,
        present,
        placements,
        nextVerdicts,
        nextExceptions,
        half,
        rolledBackFrom,
        nextLook,
        nextFailed,
        nextBound,
        nextBases,
        nextLeft,
        nextClosedBy,
        gave,
        owed,
        revision);
  }
}
