package plenzo.core.stage;

import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Window;
import plenzo.core.impact.Finding;
import plenzo.core.target.Doors;
import plenzo.core.target.TargetId;
import plenzo.core.words.Codes;

/**
 * A place on paths. What a promotion must pass to get here is asked by the {@link Leg} of its path;
 * what a hand edit does is the stage's own policy.
 *
 * @param role what it is for; production draws the double rule and the ladder of confirmations
 * @param position order on the path, from 0
 * @param driftCloses whether a site of it that differs from its record takes no version until that
 *     is settled
 * @param weights where it judges findings otherwise than the rules do; a rule has one at most
 * @param windows hours in which runs may start here; none: at any time
 */
public record Stage(
    String key,
    String name,
    Role role,
    int position,
    String zone,
    boolean driftCloses,
    List<Site> sites,
    int revision,
    @Nullable List<Weight> weights,
    @Nullable List<Window> windows) {
  public Stage {
    windows = windows == null ? List.of() : List.copyOf(windows); // before there were windows
    weights = weights == null ? List.of() : List.copyOf(weights); // before there were weights
    if (weights.stream().map(Weight::rule).distinct().count() < weights.size()) {
      throw new IllegalArgumentException("A stage has one severity of its own a rule");
    }
    String stage = key;
    sites = sites.stream().map(site -> site.in(stage)).toList();
    if (!key.matches("[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "A stage's key is lower-case letters, digits and hyphens; got \"" + key + "\"");
    }
    java.time.ZoneId.of(zone);
  }

  /** One that judges findings as the rules do. */
  public Stage(
      String key,
      String name,
      Role role,
      int position,
      String zone,
      boolean driftCloses,
      List<Site> sites,
      int revision) {
    this(key, name, role, position, zone, driftCloses, sites, revision, List.of(), List.of());
  }

  @Override
  public List<Window> windows() {
    return windows == null ? List.of() : windows;
  }

  @Override
  public List<Weight> weights() {
    return weights == null ? List.of() : weights;
  }

  /** A finding as bad as it is here. */
  public Finding weigh(Finding found) {
    Finding out = found;
    for (Weight w : weights()) {
      out = w.weigh(out);
    }
    return out;
  }

  /** What the stage is for. */
  public enum Role {
    DEVELOPMENT,
    TEST,
    PRODUCTION;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    public static Role of(String code) {
      return Codes.find("a role of a stage", values(), Role::code, code);
    }
  }

  /** One installation with its targets. */
  public record Site(String key, List<Target> targets) {
    public Site {
      targets = List.copyOf(targets);
      if (targets.stream().map(Target::sort).distinct().count() < targets.size()
          || targets.stream().map(Target::key).distinct().count() < targets.size()) {
        throw new IllegalArgumentException(
            "A site has at most one target of each sort, each with a key of its own; site \""
                + key
                + "\" has two alike");
      }
    }

    /** The same with an id for every target that was registered before targets had ids. */
    private Site in(String stage) {
      return new Site(
          key,
          targets.stream()
              .map(t -> t.id() == null ? t.as(TargetId.early(stage, key, t.key())) : t)
              .toList());
    }
  }

  /**
   * One system of a site: at most one of each sort. Connections are named, and belong to the stage.
   *
   * @param id who it is for ever; null only until it is part of a stage
   * @param sort which connector speaks to it: postgresql, directory or host
   * @param schemas of a database; empty for others
   * @param scratch connection to the place where backups are proven, or empty
   * @param doors how users are kept out of it
   */
  public record Target(
      @Nullable TargetId id,
      String key,
      String sort,
      List<String> schemas,
      String looking,
      String changing,
      String scratch,
      @Nullable Doors doors) {
    public Target {
      schemas = List.copyOf(schemas);
      doors = doors == null ? Doors.NONE : doors; // before there were doors
      String problem = Doors.problem(sort, doors);
      if (problem != null) {
        throw new IllegalArgumentException(problem);
      }
    }

    /** One that keeps nobody out. */
    public Target(
        @Nullable TargetId id,
        String key,
        String sort,
        List<String> schemas,
        String looking,
        String changing,
        String scratch) {
      this(id, key, sort, schemas, looking, changing, scratch, Doors.NONE);
    }

    @Override
    public Doors doors() {
      return doors == null ? Doors.NONE : doors;
    }

    public Target as(TargetId known) {
      return new Target(known, key, sort, schemas, looking, changing, scratch, doors);
    }

    public TargetId requireId() {
      return Objects.requireNonNull(id, "A target of a stage has an id");
    }
  }

  /** The same with other sites. */
  public Stage with(List<Site> next) {
    return new Stage(
        key, name, role, position, zone, driftCloses, next, revision, weights, windows);
  }

  public Optional<Site> site(String site) {
    return sites.stream().filter(s -> s.key().equals(site)).findFirst();
  }

  public boolean production() {
    return role == Role.PRODUCTION;
  }
}
