package plenzo.engine.binding;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.impact.ItemsCase.InputState;
import plenzo.core.item.Definition.Input;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.stage.Binding;
import plenzo.core.stage.Connection;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.ItemsDelta;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;

/** Values that stages give to declared inputs: set, listed, cleared, and resolved for a run. */
public final class Bindings {
  /** Longest value: 4,000 characters (guess: an address, a certificate's name, a token). */
  private static final int LONGEST = 4000;

  private final Tools tools;
  private final Contents contents;
  private final Givings givings;

  public Bindings(Tools tools, Contents contents) {
    this.tools = tools;
    this.contents = contents;
    this.givings = new Givings(tools);
  }

  /** Whether a host holds what its site gives an input now, as far as runs gave it. */
  public enum Given {
    GIVEN,
    /** It was given before, and the value was set anew since. */
    WAITING,
    NEVER,
    /** It was given before, and nothing is set any more. */
    LEFT,
    /** There is no value to give. */
    NOTHING;

    /** Whether a plan would give it, or have the host forget it. */
    public boolean waits() {
      return this == WAITING || this == NEVER || this == LEFT;
    }

    public String code() {
      return this == NOTHING ? "" : name().toLowerCase(java.util.Locale.ROOT);
    }
  }

  /** One input with the components that need it, and what a site gives it. */
  public record State(
      Input input,
      List<ComponentKey> neededBy,
      @Nullable Binding binding,
      InputState state,
      Given given) {}

  /** Where a binding belongs. */
  public record Place(String application, String stage, String site, String input) {
    String id() {
      return Binding.id(application, stage, site, input);
    }
  }

  /** Declared inputs of a version's definitions, by name, with who needs them. */
  public Map<Input, List<ComponentKey>> declared(Version version) {
    Map<String, Input> byName = new LinkedHashMap<>();
    Map<String, List<ComponentKey>> neededBy = new LinkedHashMap<>();
    for (VersionEntry e : version.entries()) {
      if (e.key().kind().definition()) {
        for (Input i : contents.definition(e.key(), e.content()).inputs()) {
          byName.putIfAbsent(i.name(), i);
          neededBy.computeIfAbsent(i.name(), n -> new ArrayList<>()).add(e.key());
        }
      }
    }
    Map<Input, List<ComponentKey>> out = new LinkedHashMap<>();
    byName.forEach((name, input) -> out.put(input, neededBy.getOrDefault(name, List.of())));
    return out;
  }

  /** Every input of a version as a site would give it. */
  public List<State> list(Person by, String application, SiteKey site, SemVer number) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    return states(version(application, number), site);
  }

  private Version version(String application, SemVer number) {
    return tools.keeper().read(kept -> kept.versions().get(application, number));
  }

  public List<State> states(Version version, SiteKey site) {
    Map<String, Long> given =
        tools
            .keeper()
            .read(kept -> kept.sites().find(version.application() + "@" + site))
            .map(SiteRecord::bound)
            .orElse(Map.of());
    return states(version, site, given);
  }

  private List<State> states(Version version, SiteKey site, Map<String, Long> given) {
    List<State> out = new ArrayList<>();
    declared(version)
        .forEach(
            (input, neededBy) ->
                out.add(
                    tools
                        .keeper()
                        .read(
                            kept ->
                                state(kept, version.application(), site, input, neededBy, given))));
    return out;
  }

  private State state(
      Kept kept,
      String application,
      SiteKey site,
      Input input,
      List<ComponentKey> neededBy,
      Map<String, Long> given) {
    Binding b = find(kept, application, site, input.name()).orElse(null);
    String problem = "";
    String sameAs = "";
    boolean missing = b == null && input.fallback() == null;
    if (b != null) {
      String value = value(kept, b);
      if (value == null) {
        problem = "names the connection " + b.connection() + ", which " + site.stage() + " has not";
      } else {
        problem = input.type() == Input.Type.CONNECTION ? "" : input.problem(value);
        boolean tellsPlace =
            input.secret()
                || input.type() == Input.Type.ADDRESS
                || input.type() == Input.Type.CONNECTION;
        sameAs = tellsPlace ? sameAs(kept, application, site, input.name(), value) : "";
      }
      if (input.secret() && !b.secret() && b.connection() == null) {
        problem = "is secret and was set in plain text";
      }
      if (b.connection() != null) {
        Connection c = kept.connections().find(site.stage() + "/" + b.connection()).orElse(null);
        if (c != null && !c.lentTo(application)) {
          problem = notLent(c, application);
        } else if (c != null && c.test() != null && !c.test().good()) {
          problem = "names the connection " + b.connection() + ", whose test is red";
        }
      }
    }
    Given is = given(kept, input, b, given);
    InputState state =
        new InputState(neededBy.get(0), input, problem, missing, sameAs, is == Given.LEFT);
    return new State(input, neededBy, b, state, is);
  }

  /**
   * @param all when each binding was set that the host was given last
   */
  private static Given given(Kept kept, Input input, @Nullable Binding b, Map<String, Long> all) {
    if (b == null) {
      return input.fallback() == null
          ? held(all, input.name()) ? Given.LEFT : Given.NOTHING
          : all.containsKey(input.name()) ? Given.GIVEN : Given.NEVER;
    }
    Long last = all.get(b.id());
    return last == null ? Given.NEVER : last == stamp(kept, b) ? Given.GIVEN : Given.WAITING;
  }

  private static String notLent(Connection c, String application) {
    return "names the connection " + c.name() + ", which is not lent to " + application;
  }

  private static Optional<Binding> find(Kept kept, String application, SiteKey site, String input) {
    return kept.bindings()
        .find(Binding.id(application, site.stage(), site.site(), input))
        .or(() -> kept.bindings().find(Binding.id(application, site.stage(), "", input)));
  }

  /** The connection that a binding names, as long as it is there and lent to the application. */
  private static Optional<Connection> lent(Kept kept, Binding b) {
    return kept.connections()
        .find(b.stage() + "/" + b.connection())
        .filter(c -> c.lentTo(b.application()));
  }

  /** The value itself; of a connection its address. Null when the connection is gone. */
  private @Nullable String value(Kept kept, Binding b) {
    if (b.connection() != null) {
      return kept.connections()
          .find(b.stage() + "/" + b.connection())
          .map(Connection::leadsTo)
          .orElse(null);
    }
    if (!b.secret()) {
      return b.value();
    }
    Kept.Secret s = kept.secrets().find(b.id()).orElseThrow();
    return tools.vault().decrypt(b.id(), s.cipher());
  }

  /** Another stage that gives the same value; compared by value, also of secrets. */
  private String sameAs(Kept kept, String application, SiteKey site, String input, String value) {
    return kept.bindings().list(Kept.Filter.application(application)).stream()
        .filter(o -> o.input().equals(input) && !o.stage().equals(site.stage()))
        .filter(o -> value.equals(value(kept, o)))
        .map(Binding::stage)
        .findFirst()
        .orElse("");
  }

  /** What a plan gives the host of a site, which moves nothing that the host was given already. */
  public Gift gift(Promotion p, Version version, SiteRecord record) {
    if (p.putBack() != null) {
      return Gift.NONE; // it is about what is recorded; values that wait have plans of their own
    }
    return tools
        .keeper()
        .read(
            kept ->
                p.rollback() && p.valuesOnly()
                    ? back(kept, record)
                    : forward(kept, version, record));
  }

  private Gift forward(Kept kept, Version version, SiteRecord record) {
    SiteKey site = record.site();
    Map<String, Long> given = record.bound();
    Giving now = givings.now(kept, record).orElse(Giving.NOTHING);
    Map<String, ItemsDelta.Binding> changes = new LinkedHashMap<>();
    Map<String, ItemsDelta.Binding> values = new TreeMap<>(now.values());
    Map<String, Long> stamps = new LinkedHashMap<>();
    Set<String> inputs = new LinkedHashSet<>();
    List<Binding> bindings = new ArrayList<>();
    for (Input input : declared(version).keySet()) {
      String name = input.name();
      inputs.add(name);
      Binding b = find(kept, version.application(), site, name).orElse(null);
      Map<String, ItemsDelta.Binding> is = new LinkedHashMap<>();
      boolean waits;
      if (b == null) {
        boolean set = input.fallback() != null;
        if (set) {
          stamps.put(name, 0L);
          is.put(name, new ItemsDelta.Binding(input.fallback(), false));
        }
        waits = set ? !given.containsKey(name) : held(given, name);
      } else {
        give(kept, b, is);
        if (is.isEmpty()) { // nothing can be given of it: the host keeps what it has
          Long last = given.get(b.id());
          if (last != null) {
            stamps.put(b.id(), last);
          }
          now.binding(name).ifPresent(bindings::add);
          continue;
        }
        bindings.add(b);
        stamps.put(b.id(), stamp(kept, b));
        waits = !Long.valueOf(stamp(kept, b)).equals(given.get(b.id()));
      }
      Set<String> gone = new TreeSet<>();
      for (String had : List.of(name, secretOf(name))) {
        boolean knows = now.values().containsKey(had) || had.equals(name) && held(given, name);
        if (knows && !is.containsKey(had)) {
          gone.add(had);
        }
      }
      values.keySet().removeAll(List.of(name, secretOf(name)));
      values.putAll(is);
      if (waits) {
        changes.putAll(is);
        gone.forEach(had -> changes.put(had, ItemsDelta.Binding.FORGET));
      }
    }
    return new Gift(
        changes, shown(version, site, record), new Giving(inputs, stamps, values, bindings));
  }

  /** Whether the host was given a value of the stage for the input, and none of the default. */
  private static boolean held(Map<String, Long> given, String input) {
    return given.keySet().stream()
        .anyMatch(id -> !id.equals(input) && Binding.input(id).equals(input));
  }

  private static String secretOf(String input) {
    return input + ".secret";
  }

  private List<Promotion.Gives> shown(Version version, SiteKey site, SiteRecord record) {
    return states(version, site, record.bound()).stream()
        .filter(s -> s.given().waits())
        .map(
            s -> {
              Binding b = s.binding();
              String fallback = s.input().fallback();
              return b == null
                  ? new Promotion.Gives(s.input().name(), "", fallback, null, fallback == null)
                  : new Promotion.Gives(
                      s.input().name(),
                      b.place(),
                      b.shown(),
                      b.setAt(),
                      s.given() == Given.WAITING);
            })
        .toList();
  }

  /** What leads back to what the host held before the last run that gave it values. */
  private Gift back(Kept kept, SiteRecord record) {
    Giving now = givings.now(kept, record).orElse(Giving.NOTHING);
    Giving before = givings.before(kept, record).orElse(Giving.NOTHING);
    Map<String, ItemsDelta.Binding> changes = now.to(before);
    Set<String> inputs = new TreeSet<>(now.inputs());
    inputs.addAll(before.inputs());
    List<Promotion.Gives> shown = new ArrayList<>();
    for (String input : inputs) {
      if (!changes.containsKey(input) && !changes.containsKey(secretOf(input))) {
        continue;
      }
      Binding b = before.binding(input).orElse(null);
      ItemsDelta.Binding value = before.values().get(input);
      shown.add(
          b == null
              ? new Promotion.Gives(
                  input, "", value == null ? null : value.toString(), null, /* anew= */ true)
              : new Promotion.Gives(input, b.place(), b.shown(), b.setAt(), /* anew= */ true));
    }
    return new Gift(
        changes, shown, new Giving(inputs, before.stamps(), before.values(), before.bindings()));
  }

  /** Whether it is known what the host held before the last run that gave it values. */
  public boolean knowsBefore(SiteRecord record) {
    return tools.keeper().read(kept -> givings.before(kept, record).isPresent());
  }

  /** Whether it will be known what the host holds now, once it is given something else. */
  public boolean knowsNow(SiteRecord record) {
    return record.bound().isEmpty()
        || tools.keeper().read(kept -> givings.now(kept, record).isPresent());
  }

  /** Keeps what the host will hold once a run has switched it. */
  public void keep(long run, Gift gift) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              givings.keep(kept, run, gift.holds());
              return null;
            });
  }

  /** Of a run that did not come: nothing of it is kept. */
  public void forget(Kept kept, long run) {
    givings.forget(kept, run);
  }

  /**
   * The record with what a run gave, within the transaction that records its end. After a way back
   * the stage has the values of before again, unless somebody set others meanwhile.
   *
   * @return the same record when the run gave nothing
   */
  public SiteRecord given(Kept kept, Promotion p, Run run, SiteRecord record, Instant at) {
    Giving holds = givings.of(kept, run.number()).orElse(null);
    if (holds == null) {
      return record;
    }
    if (p.rollback() && p.valuesOnly()) {
      setBack(kept, givings.now(kept, record).orElse(Giving.NOTHING), holds, run, at);
    }
    SiteRecord next = record.given(run.number(), holds.inputs(), holds.stamps());
    record.gave().stream()
        .filter(old -> !next.gave().contains(old))
        .forEach(old -> givings.forget(kept, old));
    return next;
  }

  private void setBack(Kept kept, Giving was, Giving holds, Run run, Instant at) {
    for (String input : holds.inputs()) {
      Binding given = was.binding(input).orElse(null);
      Binding before = holds.binding(input).orElse(null);
      SiteKey site = run.site();
      Binding now = find(kept, run.application(), site, input).orElse(null);
      if (!asSet(now, given) || asSet(now, before)) {
        continue;
      }
      if (now != null && (before == null || !before.id().equals(now.id()))) {
        kept.bindings().remove(now.id());
        kept.secrets().remove(now.id());
      }
      if (before != null) {
        set(kept, before, holds.values().get(input));
      }
      Place place =
          new Place(
              run.application(),
              site.stage(),
              before != null ? before.site() : now != null ? now.site() : "",
              input);
      kept.note(
          event(
              run.startedBy(),
              "binding set back",
              place,
              (before == null ? "nothing is set" : before.shown()) + ", by " + run.shown()),
          at);
    }
  }

  /** Whether one is the other as it was set then; or neither is set. */
  private static boolean asSet(@Nullable Binding one, @Nullable Binding other) {
    return one == null || other == null
        ? one == other
        : one.id().equals(other.id()) && one.setAt().equals(other.setAt());
  }

  /** Puts a binding there as it was, with the time at which it was set. */
  private void set(Kept kept, Binding before, ItemsDelta.@Nullable Binding value) {
    Binding there = kept.bindings().find(before.id()).orElse(null);
    Binding next = before.revision(there == null ? 0 : there.revision());
    kept.secrets().remove(before.id());
    if (before.secret() && value != null && value.value() != null) {
      keepSecret(kept, before.id(), value.value());
    }
    if (there == null) {
      kept.bindings().insert(next);
    } else {
      kept.bindings().replace(next);
    }
  }

  private void keepSecret(Kept kept, String id, String value) {
    kept.secrets()
        .insert(new Kept.Secret(id, tools.vault().encrypt(id, value), tools.vault().keyId(), 0));
  }

  private void give(Kept kept, Binding b, Map<String, ItemsDelta.Binding> out) {
    String value = b.connection() != null && lent(kept, b).isEmpty() ? null : value(kept, b);
    if (value == null) {
      return; // a blocker says so where it waits
    }
    out.put(b.input(), new ItemsDelta.Binding(value, b.secret()));
    if (b.connection() != null) {
      String id = b.stage() + "/" + b.connection();
      kept.secrets()
          .find(id)
          .ifPresent(
              s ->
                  out.put(
                      secretOf(b.input()),
                      new ItemsDelta.Binding(tools.vault().decrypt(id, s.cipher()), true)));
    }
  }

  /**
   * When what is given was set (microseconds). A connection that got another secret since is
   * another value; one that leads elsewhere lost its secret, and got one again.
   */
  private static long stamp(Kept kept, Binding b) {
    Instant at = b.setAt();
    if (b.connection() != null) {
      Instant secret =
          kept.connections()
              .find(b.stage() + "/" + b.connection())
              .map(Connection::secretSetAt)
              .orElse(null);
      at = secret != null && secret.isAfter(at) ? secret : at;
    }
    return ChronoUnit.MICROS.between(Instant.EPOCH, at);
  }

  /** Every binding of an application at a stage; values of secrets never come along. */
  public List<Binding> set(Person by, String application, String stage) {
    Rights.require(by, Right.LOOK, stage, application);
    return tools
        .keeper()
        .read(kept -> kept.bindings().list(Kept.Filter.application(application)))
        .stream()
        .filter(b -> b.stage().equals(stage))
        .sorted(java.util.Comparator.comparing(Binding::id))
        .toList();
  }

  /**
   * Binds an input at a stage or one of its sites.
   *
   * @param value plain or secret value, null when a connection is named
   * @param expected revision that the caller saw, 0 for none
   */
  public Binding bind(
      Person by,
      Place place,
      @Nullable String value,
      boolean secret,
      @Nullable String connection,
      int expected) {
    Rights.require(by, Right.OPERATE, place.stage(), place.application());
    if ((value == null) == (connection == null)) {
      throw Problem.invalid(
          "ONE_VALUE", "Give either a value or the name of a connection.", "/value");
    }
    if (value != null && (value.isEmpty() || value.length() > LONGEST)) {
      throw Problem.invalid(
          "VALUE",
          "A value has 1 to " + LONGEST + " characters; got " + value.length() + ".",
          "/value");
    }
    return tools
        .keeper()
        .write(
            kept -> {
              kept.stages()
                  .find(place.stage())
                  .filter(s -> place.site().isEmpty() || s.site(place.site()).isPresent())
                  .orElseThrow(
                      () -> Problem.notFound("stage or site", place.stage() + "/" + place.site()));
              if (connection != null) {
                Connection c =
                    kept.connections()
                        .find(place.stage() + "/" + connection)
                        .orElseThrow(
                            () -> Problem.notFound("connection", place.stage() + "/" + connection));
                if (!c.lentTo(place.application())) {
                  throw Problem.stopped(
                      "NOT_LENT",
                      "The binding " + notLent(c, place.application()) + ".",
                      "plenzo connection lend " + c.id() + " --to " + place.application());
                }
              }
              requireDeclared(kept, place, value, secret);
              Binding old = kept.bindings().find(place.id()).orElse(null);
              if (old != null && expected != old.revision()) {
                throw Problem.changed(
                    "CHANGED",
                    "The binding " + place.id() + " was changed by " + old.setBy() + " meanwhile.",
                    "Look again, then change it");
              }
              Binding next =
                  new Binding(
                      place.application(),
                      place.stage(),
                      place.site(),
                      place.input(),
                      secret ? null : value,
                      secret,
                      connection,
                      tools.now(),
                      by.login(),
                      old == null ? 0 : old.revision());
              kept.secrets().remove(place.id());
              if (secret && value != null) {
                keepSecret(kept, place.id(), value);
              }
              if (old == null) {
                kept.bindings().insert(next);
              } else if (!kept.bindings().update(next)) {
                throw Problem.changedMeanwhile(place.id());
              }
              kept.note(event(by.login(), "binding set", place, next.shown()), tools.now());
              return kept.bindings().find(place.id()).orElseThrow();
            });
  }

  /** A name that no version declares is a slip of the pen; a secret one is never kept in plain. */
  private void requireDeclared(Kept kept, Place place, @Nullable String value, boolean secret) {
    List<Input> all = new ArrayList<>();
    for (VersionHead v : kept.versions().list(place.application())) {
      kept.versions().find(v.ref()).ifPresent(version -> all.addAll(declared(version).keySet()));
    }
    Input input =
        all.stream()
            .filter(i -> i.name().equals(place.input()))
            .findFirst()
            .orElseThrow(
                () ->
                    Problem.invalid(
                        "NOT_DECLARED",
                        "No version of "
                            + place.application()
                            + " declares the input "
                            + place.input()
                            + "; declared: "
                            + String.join(
                                ", ", all.stream().map(Input::name).distinct().sorted().toList())
                            + ".",
                        "/input"));
    if (value != null && input.secret() != secret) {
      throw Problem.invalid(
          "SECRET",
          input.secret()
              ? place.input() + " is declared secret: its value must be given as a secret."
              : place.input() + " is not declared secret.",
          "/secret");
    }
    String problem = value == null ? "" : input.problem(value);
    if (!problem.isEmpty()) {
      throw Problem.invalid(
          "VALUE", "The value of " + place.input() + " " + problem + ".", "/value");
    }
  }

  /**
   * @param seen revision that was looked at, null when nobody looked
   */
  public void clear(Person by, Place place, @Nullable Integer seen) {
    Rights.require(by, Right.OPERATE, place.stage(), place.application());
    tools
        .keeper()
        .write(
            kept -> {
              Binding old =
                  kept.bindings()
                      .find(place.id())
                      .orElseThrow(() -> Problem.notFound("binding", place.id()));
              Problem.requireSeen(seen, old.revision(), place.id());
              if (!kept.bindings().remove(place.id())) {
                throw Problem.changedMeanwhile(place.id());
              }
              kept.secrets().remove(place.id());
              kept.note(event(by.login(), "binding cleared", place, ""), tools.now());
              return null;
            });
  }

  private static Event event(String by, String what, Place place, String shown) {
    return new Event(
        by,
        what,
        place.application(),
        place.stage(),
        place.site().isEmpty() ? null : place.site(),
        null,
        null,
        null,
        place.input() + (shown.isEmpty() ? "" : ": " + shown));
  }
}
