package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.impact.Rules;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memo;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.proposal.Proposal.Place;
import plenzo.core.proposal.Proposed;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.stage.Weight;
import plenzo.core.target.TargetId;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.people.SecondPerson;
import plenzo.engine.people.SecondPerson.Agreed;
import plenzo.engine.people.SecondPerson.Made;

/** Stages with their sites and targets. "New" never replaces: a key that is there is changed. */
public final class Stages {
  private static final String KEY = "[a-z][a-z0-9-]{0,39}";

  private final Tools tools;
  private final SecondPerson second;
  private final Set<String> checks;
  private final Consumer<Stage> afterChange;
  private final Memo<List<Stage>> all = new Memo<>();

  /**
   * @param second is asked for what a stage of production is
   * @param checks names of the checks of content
   * @param afterChange lets open promotions be judged by what a stage finds bad now
   */
  public Stages(Tools tools, SecondPerson second, Set<String> checks, Consumer<Stage> afterChange) {
    this.tools = tools;
    this.second = second;
    this.checks = Set.copyOf(checks);
    this.afterChange = afterChange;
  }

  /** Every rule and check of content whose findings a stage may judge, by name. */
  public List<String> rules() {
    return Stream.concat(Rules.all().keySet().stream(), checks.stream()).sorted().toList();
  }

  /** Those that the person may see, in their order. */
  public List<Stage> list(Person by) {
    return all().stream().filter(s -> by.may(Right.LOOK, s.key(), Person.ANY)).toList();
  }

  private List<Stage> all() {
    return all.get(
        tools.keeper().stampOfSetUp(),
        () ->
            tools.keeper().read(kept -> kept.stages().all()).stream()
                .sorted(Comparator.comparingInt(Stage::position).thenComparing(Stage::key))
                .toList());
  }

  /** Whether a stage is one of production; not, when it is not there any more. */
  public boolean production(String key) {
    return all().stream().anyMatch(s -> s.key().equals(key) && s.production());
  }

  public Stage get(Person by, String key) {
    return get(tools, by, key);
  }

  static Stage get(Tools tools, Person by, String key) {
    return tools
        .keeper()
        .read(kept -> kept.stages().find(key))
        .filter(s -> by.may(Right.LOOK, key, Person.ANY))
        .orElseThrow(() -> Problem.notFound("stage", key));
  }

  /**
   * Registers a stage (revision 0), or changes the one of that key when the revision is its present
   * one. Targets keep the ids that they have.
   *
   * @throws Problem when the key is taken, the stage moved, or an unfinished run stands on what
   *     would go
   */
  public Stage save(Person by, Stage asked) {
    return save(by, asked, /* agreed= */ null);
  }

  /**
   * @param agreed a second person's word; null when it is asked for now
   */
  public Stage save(Person by, Stage asked, @Nullable Agreed agreed) {
    Rights.require(by, Right.ADMINISTER, asked.key(), Person.EVERY);
    Stage before = tools.keeper().read(kept -> kept.stages().find(asked.key())).orElse(null);
    Stage saved = saved(by, asked, agreed);
    if (before != null
        && !(saved.weights().equals(before.weights())
            && saved.windows().equals(before.windows()))) {
      afterChange.accept(saved);
    }
    return saved;
  }

  private Stage saved(Person by, Stage asked, @Nullable Agreed agreed) {
    return second.change(
        by,
        agreed,
        kept -> {
          Stage old = kept.stages().find(asked.key()).orElse(null);
          requireKnown(asked, old == null ? List.of() : old.weights());
          if (old == null) {
            Stage made = identified(asked, null);
            kept.stages().insert(made);
            kept.note(
                event(
                    by,
                    "stage registered",
                    made.key(),
                    made.name() + " (" + made.role().code() + ")"),
                tools.now());
          } else if (asked.revision() == 0) {
            throw taken("stage", asked.key(), "/key");
          } else {
            replace(kept, by, old, identified(asked, old));
          }
          Stage now = kept.stages().find(asked.key()).orElseThrow();
          return old == null || !guards(old, now)
              ? Made.free(now, Proposed.stage(asked))
              : new Made<>(
                  now,
                  Proposed.stage(asked),
                  Set.of(now.key()),
                  List.of(new Place(now.key(), Person.EVERY)),
                  Changes.between(old, now));
        });
  }

  /** A severity of a rule that nobody has would judge nothing, and nobody would see that. */
  private void requireKnown(Stage asked, List<Weight> before) {
    for (Weight w : asked.weights()) {
      if (!before.contains(w) && !rules().contains(w.rule())) {
        throw Problem.invalid(
            "UNKNOWN_RULE", "There is no rule \"" + w.rule() + "\".", "/severities");
      }
    }
  }

  /** Whether a change is one of what a stage of production is, not of its sites alone. */
  private static boolean guards(Stage old, Stage now) {
    return (old.production() || now.production())
        && !(old.role() == now.role()
            && old.driftCloses() == now.driftCloses()
            && old.zone().equals(now.zone())
            && old.weights().equals(now.weights())
            && old.windows().equals(now.windows()));
  }

  /**
   * Adds a site to a stage.
   *
   * @throws Problem when there is one of that key
   */
  public Stage newSite(Person by, String stage, Stage.Site site) {
    return site(by, stage, site, /* there= */ false);
  }

  /**
   * Changes the targets of a site.
   *
   * @throws Problem when there is none of that key
   */
  public Stage changeSite(Person by, String stage, Stage.Site site) {
    return site(by, stage, site, /* there= */ true);
  }

  private Stage site(Person by, String stage, Stage.Site site, boolean there) {
    Rights.require(by, Right.ADMINISTER, stage, Person.EVERY);
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Stage old =
                  kept.stages().find(stage).orElseThrow(() -> Problem.notFound("stage", stage));
              String name = stage + "/" + site.key();
              if (old.site(site.key()).isPresent() != there) {
                throw there ? Problem.notFound("site", name) : taken("site", name, "/key");
              }
              List<Stage.Site> sites = new ArrayList<>(old.sites());
              sites.removeIf(s -> s.key().equals(site.key()));
              sites.add(site);
              replace(kept, by, old, identified(old.with(sites), old));
              return kept.stages().find(stage).orElseThrow();
            });
  }

  private static Problem taken(String what, String key, String field) {
    return Problem.invalid(
        "TAKEN", "There is already a " + what + " \"" + key + "\"; change it instead.", field);
  }

  private void replace(Kept kept, Person by, Stage old, Stage next) {
    RunsOn.refuse(kept, old, next);
    requireOpen(kept, old, next);
    if (next.production() && !old.production()) {
      // nobody changes production alone
      for (Path path : kept.paths().all()) {
        path.leg(next.key()).ifPresent(leg -> Paths.requireApproval(next, leg));
      }
    }
    String changes = Changes.between(old, next);
    if (!kept.stages().update(next)) {
      throw Problem.changed(
          "CHANGED",
          "Somebody else changed the stage " + next.key() + " meanwhile.",
          "Look again, then change it");
    }
    kept.note(event(by, "stage changed", next.key(), changes), tools.now());
  }

  /** How users are let in is not forgotten while they are out. */
  private static void requireOpen(Kept kept, Stage old, Stage next) {
    for (Stage.Site site : old.sites()) {
      List<Stage.Target> now = next.site(site.key()).map(Stage.Site::targets).orElse(List.of());
      boolean otherwise =
          site.targets().stream()
              .filter(t -> t.doors().any())
              .anyMatch(
                  t ->
                      now.stream()
                          .noneMatch(
                              n ->
                                  n.requireId().equals(t.requireId())
                                      && n.doors().equals(t.doors())));
      SiteKey at = new SiteKey(old.key(), site.key());
      if (otherwise
          && kept.sites().list(Kept.Filter.at(at)).stream().anyMatch(r -> r.closedBy() != null)) {
        throw Problem.stopped(
            "CLOSED",
            "Users are kept out of " + at + ": who that is stays as it is until they are let in.",
            "plenzo maintenance off " + at + " --reason …");
      }
    }
  }

  /** Gives every target its id: the one it has, or a new one that nobody had. */
  private Stage identified(Stage asked, @Nullable Stage old) {
    List<Stage.Site> sites = new ArrayList<>();
    for (Stage.Site site : asked.sites()) {
      boolean fresh = old == null || old.site(site.key()).isEmpty();
      if (fresh && !site.key().matches(KEY)) {
        throw Problem.invalid(
            "KEY", "A site's key is lower-case letters, digits and hyphens.", "/sites");
      }
      List<Stage.Target> had = fresh ? List.of() : old.site(site.key()).orElseThrow().targets();
      List<Stage.Target> targets = new ArrayList<>();
      for (Stage.Target t : site.targets()) {
        tools.connector(t.sort());
        targets.add(t.as(id(asked.key(), site.key(), t, had)));
      }
      sites.add(new Stage.Site(site.key(), targets));
    }
    return asked.with(sites);
  }

  private TargetId id(String stage, String site, Stage.Target asked, List<Stage.Target> had) {
    TargetId said = asked.id();
    TargetId early = TargetId.early(stage, site, asked.key());
    for (Stage.Target t : had) {
      boolean same =
          t.requireId().equals(said)
              || t.key().equals(asked.key()) && (said == null || said.equals(early));
      if (same) {
        if (!t.sort().equals(asked.sort())) {
          throw Problem.invalid(
              "SORT",
              "The target " + t.key() + " is a " + t.sort() + "; register another one instead.",
              "/sites");
        }
        return t.requireId();
      }
    }
    if (said != null && !said.equals(early)) {
      throw Problem.invalid(
          "TARGET_ID", stage + "/" + site + " has no target with the id " + said + ".", "/sites");
    }
    return new TargetId(early.text() + "~" + tools.newId().substring(0, 4));
  }

  static Event event(Person by, String what, String stage, String text) {
    return new Event(by.login(), what, null, stage, null, null, null, null, text);
  }
}
