package plenzo.core.promotion;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.json.Json;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.core.words.Codes;

/**
 * One version that goes to several sites of a stage, wave after wave: each site a promotion and a
 * run of its own, agreed and started as one.
 *
 * @param number shown as "W-3"
 * @param waves in order; the sites of one run beside each other
 * @param rules what happens between them
 * @param at index of the wave under way; as many as there are waves once all were begun
 * @param goesOnAt when the next wave begins by itself; null while none is waited for
 * @param left sites that are left for later, and owed
 * @param startedBy who started it, null before
 * @param sentence what came of it; empty before its end
 */
public record Waves(
    long number,
    String application,
    SemVer version,
    String stage,
    List<Wave> waves,
    Rules rules,
    State state,
    String preparedBy,
    Instant preparedAt,
    int at,
    @Nullable Instant goesOnAt,
    List<Left> left,
    @Nullable String startedBy,
    String sentence,
    int revision) {
  /** Most sites of one (guess: people read each plan). */
  public static final int MOST = 100;

  private static final String PREFIX = "W-";

  public Waves {
    waves = List.copyOf(waves);
    left = List.copyOf(left);
  }

  /** Sites that run beside each other. */
  public record Wave(List<Part> parts) {
    public Wave {
      parts = List.copyOf(parts);
    }
  }

  /** One site, and the number of its promotion. */
  public record Part(SiteKey site, long promotion) {}

  /** What must happen before the next wave begins. */
  public enum Between {
    /** Nothing: it begins when the one before is there. */
    GO_ON("go-on"),
    /** A person's yes. */
    WORD("word");

    private final String code;

    Between(String code) {
      this.code = code;
    }

    public String code() {
      return code;
    }

    public static Between of(String code) {
      return Codes.find("what happens between waves", values(), Between::code, code);
    }
  }

  /**
   * @param minutes that pass before the next wave begins
   * @param failures how many sites may fail before nothing more is begun
   */
  public record Rules(Between between, int minutes, int failures) {
    /** A day. */
    private static final int LONGEST = 24 * 60;

    public Rules {
      if (minutes < 0 || minutes > LONGEST) {
        throw new IllegalArgumentException(
            "Between waves pass 0 to " + LONGEST + " minutes; got " + minutes);
      }
      if (failures < 0 || failures >= MOST) {
        throw new IllegalArgumentException(
            "From 0 to " + (MOST - 1) + " sites may fail; got " + failures);
      }
    }

    public Duration pause() {
      return Duration.ofMinutes(minutes);
    }
  }

  /** A site that is left for later. */
  public record Left(SiteKey site, String by, Instant at, String reason) {}

  /** How far it came. */
  public enum State {
    OPEN,
    RUNNING,
    /** Between two waves: for a person's yes, or until some minutes have passed. */
    WAITING,
    DONE,
    /** As many sites as the rules allow did not come through; nothing more is begun. */
    STOPPED,
    WITHDRAWN;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    public boolean ended() {
      return this == DONE || this == STOPPED || this == WITHDRAWN;
    }
  }

  public String shown() {
    return PREFIX + number;
  }

  /** Whether a promotion's group is one of these, and not a release. */
  static boolean isKey(String group) {
    return group.startsWith(PREFIX);
  }

  public List<Part> parts() {
    return waves.stream().flatMap(w -> w.parts().stream()).toList();
  }

  public boolean leaves(SiteKey site) {
    return left.stream().anyMatch(l -> l.site().equals(site));
  }

  /** Those of the wave under way that are not left for later. */
  public List<Part> underWay() {
    return at >= waves.size()
        ? List.of()
        : waves.get(at).parts().stream().filter(p -> !leaves(p.site())).toList();
  }

  public boolean last() {
    return at >= waves.size() - 1;
  }

  /** The same with a state, and what is said of it. */
  public Waves to(State next, @Nullable String by, String said) {
    return with(next, at, null, left, by, said);
  }

  /** The same between two waves. */
  public Waves waiting(@Nullable Instant until) {
    return with(State.WAITING, at, until, left, startedBy, sentence);
  }

  /** The same with its next wave begun. */
  public Waves next(String by) {
    return with(State.RUNNING, at + 1, null, left, by, sentence);
  }

  public Waves leaving(Left site) {
    List<Left> all = new ArrayList<>(left);
    all.add(site);
    return with(state, at, goesOnAt, all, startedBy, sentence);
  }

  private Waves with(
      State nextState,
      int nextAt,
      @Nullable Instant until,
      List<Left> nextLeft,
      @Nullable String by,
      String said) {
    return new Waves(
        number,
        application,
        version,
        stage,
        waves,
        rules,
        nextState,
        preparedBy,
        preparedAt,
        nextAt,
        until,
        nextLeft,
        by,
        said,
        revision);
  }

  /** What one part has come to. */
  public enum Came {
    /** Nothing was begun, or it is under way. */
    NOT_YET,
    THERE,
    /** It did not come through, or was gone back from. */
    FAILED
  }

  /** What follows from what the parts of the wave under way have come to. */
  public enum Follows {
    WAIT,
    NEXT_WAVE,
    DONE,
    STOP
  }

  /**
   * @param came of the parts that are under way, in order
   * @param failed how many parts of earlier waves did not come through
   */
  public Follows follows(List<Came> came, long failed) {
    if (came.contains(Came.NOT_YET)) {
      return Follows.WAIT;
    }
    long all = failed + came.stream().filter(c -> c == Came.FAILED).count();
    if (all > rules.failures()) {
      return Follows.STOP;
    }
    return last() ? Follows.DONE : Follows.NEXT_WAVE;
  }

  /**
   * One fingerprint over the plans of all sites in their order, and the rules; null while one has
   * none.
   *
   * @param plans fingerprints of the parts' plans, null for one that is being compared
   */
  public @Nullable Fingerprint fingerprint(List<@Nullable Fingerprint> plans) {
    List<String> parts = new ArrayList<>();
    for (Fingerprint f : plans) {
      if (f == null) {
        return null;
      }
      parts.add(f.digest().hex());
    }
    List<Json> sites =
        waves.stream()
            .map(w -> Json.of(w.parts().stream().map(p -> p.site().toString()).toList()))
            .toList();
    return new Fingerprint(
        Digest.of(
            Json.object(
                    "format",
                    1,
                    "application",
                    application,
                    "version",
                    version.text(),
                    "waves",
                    sites,
                    "between",
                    rules.between().code(),
                    "minutes",
                    (long) rules.minutes(),
                    "failures",
                    (long) rules.failures(),
                    "plans",
                    parts)
                .canonical()));
  }
}
