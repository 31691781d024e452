package plenzo.core.promotion;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.json.Json;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

/**
 * Versions of several applications that are promoted as one.
 *
 * @param key what people call it in commands
 * @param members each application once
 * @param cases where it was taken, oldest first; the last of a site counts
 */
public record Release(
    String key,
    String title,
    List<Member> members,
    List<Case> cases,
    String by,
    Instant at,
    int revision) {
  /** Most applications that one release takes (guess: people read each plan). */
  private static final int MOST = 50;

  public Release {
    if (!key.matches("[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "A release's key is lower-case letters, digits and hyphens; got \"" + key + "\"");
    }
    if (title.isBlank() || title.length() > 200) {
      throw new IllegalArgumentException("A release needs a title of up to 200 characters");
    }
    Map<String, Member> sorted = new TreeMap<>();
    for (Member m : members) {
      if (sorted.put(m.application(), m) != null) {
        throw new IllegalArgumentException("A release has one version of " + m.application());
      }
    }
    if (sorted.size() > MOST) {
      throw new IllegalArgumentException("A release has at most " + MOST + " members");
    }
    members = List.copyOf(sorted.values());
    cases = List.copyOf(cases);
  }

  /** One version in it. */
  public record Member(String application, SemVer number) {
    /** {@code fares@2.4.0}. */
    @Override
    public String toString() {
      return application + "@" + number;
    }
  }

  /** How far it came at a site. */
  public enum State {
    /** Its members are prepared, and approved one by one as one. */
    OPEN,
    /** One member after the other runs. */
    RUNNING,
    DONE,
    /** A member did not come through; those before it are there, those after it were not begun. */
    STOPPED,
    WITHDRAWN;

    public String code() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }

    public boolean ended() {
      return this == DONE || this == STOPPED || this == WITHDRAWN;
    }
  }

  /**
   * The release at one site.
   *
   * @param promotions numbers of its members' promotions, in the order in which they run
   * @param skipped members that were there already
   * @param startedBy who started it, null before
   * @param sentence what came of it; empty before its end
   */
  public record Case(
      SiteKey site,
      List<Long> promotions,
      List<Member> skipped,
      State state,
      String preparedBy,
      Instant preparedAt,
      @Nullable String startedBy,
      String sentence) {
    public Case {
      promotions = List.copyOf(promotions);
      skipped = List.copyOf(skipped);
    }

    public Case with(State next, @Nullable String by, String said) {
      return new Case(site, promotions, skipped, next, preparedBy, preparedAt, by, said);
    }
  }

  /** The case that counts at a site. */
  public Optional<Case> at(SiteKey site) {
    return cases.stream().filter(c -> c.site().equals(site)).reduce((a, b) -> b);
  }

  public Optional<Member> member(String application) {
    return members.stream().filter(m -> m.application().equals(application)).findFirst();
  }

  /** The same with a case instead of the last one of its site, or as its first. */
  public Release with(Case next, boolean anew) {
    List<Case> all = new ArrayList<>(cases);
    Case last = at(next.site()).orElse(null);
    if (last == null || anew) {
      all.add(next);
    } else {
      all.set(all.lastIndexOf(last), next);
    }
    return new Release(key, title, members, all, by, at, revision);
  }

  public Release with(String newTitle, List<Member> next) {
    return new Release(key, newTitle, next, cases, by, at, revision);
  }

  /**
   * Members in the order in which they run: what another needs before it, ties by key.
   *
   * @param needs keys of the applications that a member's version needs
   * @throws IllegalArgumentException when members need one another; says the path
   */
  public List<Member> ordered(Map<String, List<String>> needs) {
    List<Member> out = new ArrayList<>();
    Map<String, List<String>> path = new HashMap<>();
    members.forEach(m -> visit(m, needs, path, out, List.of()));
    return out;
  }

  private void visit(
      Member m,
      Map<String, List<String>> needs,
      Map<String, List<String>> done,
      List<Member> out,
      List<String> under) {
    if (under.contains(m.application())) {
      throw new IllegalArgumentException(
          "Its members need one another: "
              + String.join(" needs ", under.subList(under.indexOf(m.application()), under.size()))
              + " needs "
              + m.application());
    }
    if (done.containsKey(m.application())) {
      return;
    }
    List<String> deeper = new ArrayList<>(under);
    deeper.add(m.application());
    needs.getOrDefault(m.application(), List.of()).stream()
        .sorted()
        .forEach(n -> member(n).ifPresent(other -> visit(other, needs, done, out, deeper)));
    done.put(m.application(), deeper);
    out.add(m);
  }

  /**
   * One fingerprint over the plans of all members in their order; null while one has none.
   *
   * @param plans fingerprints of the members' plans, null for one that is being compared
   */
  public static @Nullable Fingerprint fingerprint(
      String key, Case at, List<@Nullable Fingerprint> plans) {
    List<String> parts = new ArrayList<>();
    for (Fingerprint f : plans) {
      if (f == null) {
        return null;
      }
      parts.add(f.digest().hex());
    }
    return new Fingerprint(
        Digest.of(
            Json.object(
                    "format",
                    1,
                    "release",
                    key,
                    "site",
                    at.site().toString(),
                    "skipped",
                    at.skipped().stream().map(Member::toString).toList(),
                    "plans",
                    parts)
                .canonical()));
  }
}
