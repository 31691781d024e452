package plenzo.core.stage;

import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.version.SemVer;

/**
 * What Plenzo recorded about one application at one site: the unit of record.
 *
 * @param present the version that is there
 * @param placements every version that came to be here, oldest first
 * @param exceptions conflicts that were decided "keep", by component and part
 * @param bound when each binding was set that the host was given last (microseconds), by its id
 * @param look what was found at the last look
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
    int revision) {
  public SiteRecord {
    placements = List.copyOf(placements);
    verdicts = List.copyOf(verdicts);
    exceptions = List.copyOf(exceptions);
    bound = Map.copyOf(bound);
  }

  /**
   * What a look at the site found: structure is looked at often, rows seldom.
   *
   * @param structure parts of structures that differ from the record, −1 when nobody looked yet
   * @param records rows that differ, −1 when nobody looked yet
   * @param examples a few of them, by component and part
   */
  public record Look(
      long structure,
      long records,
      List<String> examples,
      @Nullable Instant at,
      boolean reachable) {
    static final Look NONE = new Look(-1, -1, List.of(), null, true);

    public Look {
      examples = List.copyOf(examples);
    }
  }

  /** Parts and rows that differ from the record, −1 when nobody looked yet. */
  public long drift() {
    return look.structure() < 0 && look.records() < 0
        ? -1
        : Math.max(0, look.structure()) + Math.max(0, look.records());
  }

  /**
   * How a version came here: "adopted", "matched", "run" or "rollback"; run is null for the first
   * two.
   */
  public record Placement(SemVer version, String how, @Nullable Long run, Instant at, String by) {}

  /** A person's word about a version at this site. */
  public record Verdict(SemVer version, boolean good, String reason, String by, Instant at) {}

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
        0);
  }

  public String id() {
    return application + "@" + site;
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
    if (drift() > 0) {
      return Condition.DRIFTED;
    }
    return rolledBackFrom != null ? Condition.ROLLED_BACK : Condition.GOOD;
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

  public SiteRecord placed(Placement p, List<String> exceptions, @Nullable SemVer rolledBackFrom) {
    List<Placement> all = new ArrayList<>(placements);
    all.add(p);
    return new SiteRecord(
        application,
        site,
        p.version(),
        all,
        verdicts,
        exceptions,
        false,
        rolledBackFrom,
        new Look(0, 0, List.of(), p.at(), true),
        null,
        bound,
        revision);
  }

  public SiteRecord judged(Verdict v) {
    List<Verdict> all = new ArrayList<>(verdicts);
    all.add(v);
    return new SiteRecord(
        application,
        site,
        present,
        placements,
        all,
        exceptions,
        halfWritten,
        rolledBackFrom,
        look,
        failed,
        bound,
        revision);
  }

  public SiteRecord looked(Look now) {
    return new SiteRecord(
        application,
        site,
        present,
        placements,
        verdicts,
        exceptions,
        halfWritten,
        rolledBackFrom,
        now,
        failed,
        bound,
        revision);
  }

  public SiteRecord unreachable() {
    return looked(new Look(look.structure(), look.records(), look.examples(), look.at(), false));
  }

  public SiteRecord withBound(Map<String, Long> given) {
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
        given,
        revision);
  }

  public SiteRecord withHalfWritten() {
    return new SiteRecord(
        application,
        site,
        present,
        placements,
        verdicts,
        exceptions,
        true,
        rolledBackFrom,
        look,
        failed,
        bound,
        revision);
  }

  public SiteRecord withFailed(@Nullable String failed) {
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
        revision);
  }
}
