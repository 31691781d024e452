package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.PromotionState;
import plenzo.core.proposal.Proposal.Place;
import plenzo.core.proposal.Proposed;
import plenzo.core.stage.Application;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Onward;
import plenzo.core.stage.Path;
import plenzo.core.stage.Stage;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.people.SecondPerson;
import plenzo.engine.people.SecondPerson.Agreed;
import plenzo.engine.people.SecondPerson.Made;

/** Paths that versions travel. "New" never replaces: a path that is there is changed. */
public final class Paths {
  private final Tools tools;
  private final SecondPerson second;
  private final Consumer<Path> afterChange;

  /**
   * @param second is asked for what leads to production
   * @param afterChange lets open promotions be judged by what a path asks now
   */
  public Paths(Tools tools, SecondPerson second, Consumer<Path> afterChange) {
    this.tools = tools;
    this.second = second;
    this.afterChange = afterChange;
  }

  public List<Path> list() {
    return tools.keeper().read(kept -> kept.paths().all());
  }

  /**
   * Lays a path.
   *
   * @param asked its revision is not looked at
   */
  public Path lay(Person by, Path asked) {
    return lay(by, asked, /* agreed= */ null);
  }

  /**
   * @param agreed a second person's word; null when it is asked for now
   */
  public Path lay(Person by, Path asked, @Nullable Agreed agreed) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    return second.change(
        by,
        agreed,
        kept -> {
          stages(kept, asked);
          Path made = by(by, asked, /* old= */ null);
          if (kept.paths().find(asked.key()).isPresent()) {
            throw Problem.invalid(
                "TAKEN",
                "There is already a path \"" + asked.key() + "\"; change it instead.",
                "/key");
          }
          kept.paths().insert(made);
          kept.note(
              Event.of(by.login(), "path laid", asked.key() + ": " + asked.words()), tools.now());
          return new Made<>(
              kept.paths().find(asked.key()).orElseThrow(),
              Proposed.newPath(made),
              SecondPerson.production(kept, Set.copyOf(asked.stages())),
              List.of(Place.EVERYWHERE),
              asked.words());
        });
  }

  /**
   * Lets versions travel otherwise from now on. What is where stays; a stage that is left out is no
   * longer shown for the applications of the path.
   *
   * @param asked its revision is the one that was looked at; 0 replaces any
   * @throws Problem when it moved meanwhile, or a case is open that goes to a stage that is left
   *     out
   */
  public Path change(Person by, Path asked) {
    return change(by, asked, /* agreed= */ null);
  }

  /**
   * @param agreed a second person's word; null when it is asked for now
   */
  public Path change(Person by, Path asked, @Nullable Agreed agreed) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    Path changed = changed(by, asked, agreed);
    afterChange.accept(changed);
    return changed;
  }

  private Path changed(Person by, Path asked, @Nullable Agreed agreed) {
    return second.change(
        by,
        agreed,
        kept -> {
          Path old =
              kept.paths()
                  .find(asked.key())
                  .orElseThrow(() -> Problem.notFound("path", asked.key()));
          stages(kept, asked);
          openCases(kept, old, asked);
          int seen = asked.revision() == 0 ? old.revision() : asked.revision();
          Path next =
              new Path(asked.key(), asked.name(), asked.source(), by(by, asked, old).legs(), seen);
          if (!kept.paths().update(next)) {
            throw Problem.changed(
                "CHANGED",
                "Somebody else changed the path " + asked.key() + " meanwhile.",
                "Look again, then change it");
          }
          String changes = Changes.between(old, next);
          kept.note(
              Event.of(by.login(), "path changed", asked.key() + ": " + changes), tools.now());
          return new Made<>(
              kept.paths().find(asked.key()).orElseThrow(),
              Proposed.path(next),
              SecondPerson.production(kept, guarded(old, next)),
              List.of(Place.EVERYWHERE),
              changes);
        });
  }

  /**
   * What goes on by itself goes by the rights of whoever said so: who is named in it is not taken.
   */
  private static Path by(Person by, Path asked, @Nullable Path old) {
    List<Leg> legs = new ArrayList<>();
    for (Leg leg : asked.legs()) {
      Onward onward = leg.onward();
      Onward had = old == null ? null : old.leg(leg.stage()).map(Leg::onward).orElse(null);
      legs.add(
          onward == null || had != null && had.how() == onward.how()
              ? leg.onward(onward == null ? null : had)
              : leg.onward(new Onward(onward.how(), by.login())));
    }
    return new Path(asked.key(), asked.name(), asked.source(), legs, asked.revision());
  }

  /** Stages that a change is about: what one leg asks may be of the stage before. */
  private static Set<String> guarded(Path old, Path next) {
    Set<String> out = new TreeSet<>();
    if (!old.legs().equals(next.legs()) || !Objects.equals(old.source(), next.source())) {
      out.addAll(old.stages());
      out.addAll(next.stages());
    }
    return out;
  }

  private static void stages(Kept kept, Path path) {
    Stream.concat(Optional.ofNullable(path.source()).stream(), path.stages().stream())
        .forEach(s -> kept.stages().find(s).orElseThrow(() -> Problem.notFound("stage", s)));
    for (Leg leg : path.legs()) {
      Stage stage = kept.stages().find(leg.stage()).orElseThrow();
      if (stage.role() == Stage.Role.DEVELOPMENT) {
        throw Problem.invalid(
            "LEG",
            leg.stage() + " is where applications are edited: versions come from there.",
            "/legs");
      }
      requireApproval(stage, leg);
      for (Leg.Quorum q : leg.approvals()) {
        if (!q.role().isEmpty()) {
          kept.roles().find(q.role()).orElseThrow(() -> Problem.notFound("role", q.role()));
        }
      }
    }
  }

  /** Nobody changes production alone. */
  static void requireApproval(Stage stage, Leg leg) {
    if (stage.production() && leg.needed() == 0) {
      throw Problem.invalid(
          "APPROVALS",
          stage.key() + " is production: at least one approval is asked for.",
          "/legs");
    }
  }

  /** Who waits for a promotion to a stage must not find that the stage is not on the way. */
  private static void openCases(Kept kept, Path old, Path next) {
    Set<String> gone = new TreeSet<>(old.stages());
    next.stages().forEach(gone::remove);
    List<String> open = new ArrayList<>();
    for (Application a : kept.applications().all()) {
      if (!a.paths().contains(old.key())) {
        continue;
      }
      for (String stage : gone) {
        kept
            .promotions()
            .list(Kept.Filter.application(a.key()).stage(stage).in(PromotionState.openCodes()))
            .stream()
            .filter(p -> Objects.requireNonNullElse(p.path(), a.path()).equals(old.key()))
            .forEach(p -> open.add(p.shown() + " to " + p.site()));
      }
    }
    if (!open.isEmpty()) {
      throw Problem.stopped(
          "CASES_OPEN",
          "There "
              + (open.size() == 1 ? "is an open promotion" : "are open promotions")
              + " to what is left out: "
              + String.join(", ", open)
              + ".",
          "plenzo promotion withdraw " + open.get(0).split(" ")[0] + " --reason …");
    }
  }
}
