package plenzo.engine.setup;

import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memo;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.probe.Probe;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.PromotionState;
import plenzo.core.proposal.Proposal.Place;
import plenzo.core.proposal.Proposed;
import plenzo.core.stage.Application;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.people.SecondPerson;
import plenzo.engine.people.SecondPerson.Agreed;
import plenzo.engine.people.SecondPerson.Made;

/** Applications: what is versioned and promoted as a unit. */
public final class Applications {
  private final Tools tools;
  private final SecondPerson second;
  private final Memo<List<Application>> all = new Memo<>();

  /**
   * @param second is asked for other paths to production
   */
  public Applications(Tools tools, SecondPerson second) {
    this.tools = tools;
    this.second = second;
  }

  static <T> T checked(java.util.function.Supplier<T> make, String field) {
    try {
      return make.get();
    } catch (IllegalArgumentException | java.time.DateTimeException e) {
      throw Problem.invalid("INVALID", String.valueOf(e.getMessage()), field);
    }
  }

  /** Those that the person may see, by key. */
  public List<Application> list(Person by) {
    return all
        .get(
            tools.keeper().stampOfSetUp(),
            () ->
                tools.keeper().read(kept -> kept.applications().all()).stream()
                    .sorted(Comparator.comparing(Application::key))
                    .toList())
        .stream()
        .filter(a -> by.may(Right.LOOK, Person.ANY, a.key()))
        .toList();
  }

  /** Name spaces of all applications but one. */
  public static Set<String> otherSpaces(Tools tools, String key) {
    return tools.keeper().read(kept -> kept.applications().all()).stream()
        .filter(a -> !a.key().equals(key))
        .map(Application::schema)
        .collect(Collectors.toSet());
  }

  public Application get(Person by, String key) {
    return tools
        .keeper()
        .read(kept -> kept.applications().find(key))
        .filter(a -> by.may(Right.LOOK, Person.ANY, key))
        .orElseThrow(() -> Problem.notFound("application", key));
  }

  public Application register(
      Person by, String key, String name, String owner, String schema, String path) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, key);
    Application application =
        checked(
            () -> Application.registered(tools.newId(), key, name, owner, schema, path), "/key");
    return tools
        .keeper()
        .write(
            kept -> {
              kept.paths().find(path).orElseThrow(() -> Problem.notFound("path", path));
              if (kept.applications().find(key).isPresent()) {
                throw Problem.invalid(
                    "TAKEN", "There is already an application \"" + key + "\".", "/key");
              }
              requireFree(kept, key, List.of(schema));
              kept.applications().insert(application);
              kept.note(
                  new Event(
                      by.login(),
                      "application registered",
                      key,
                      null,
                      null,
                      null,
                      null,
                      null,
                      name + ", owner " + owner),
                  tools.now());
              return application;
            });
  }

  /** Of two applications each has its own: else both would own the same components. */
  private static void requireFree(Kept kept, String key, List<String> schemas) {
    for (Application a : kept.applications().all()) {
      for (String schema : schemas) {
        if (!a.key().equals(key) && a.schemas().contains(schema)) {
          throw Problem.invalid(
              "NAME_SPACE_TAKEN",
              "The name space "
                  + schema
                  + " is that of "
                  + a.key()
                  + "; two applications would own the same components.",
              "/schema");
        }
      }
    }
  }

  /**
   * What may be changed of an application; null leaves a fact as it is.
   *
   * @param support who is called about it, by stage; the whole list
   * @param paths keys of the paths that its versions may travel, the ordinary one first
   * @param probes what is asked around a run; the whole list
   * @param furtherSchemas schemas of the database beside the one called like its name space; the
   *     whole list
   */
  public record Facts(
      @Nullable String name,
      @Nullable String owner,
      @Nullable String description,
      @Nullable Map<String, String> support,
      @Nullable List<String> paths,
      @Nullable List<String> privateColumns,
      @Nullable List<Probe> probes,
      @Nullable List<String> furtherSchemas) {
    /** Of everything but its schemas. */
    public Facts(
        @Nullable String name,
        @Nullable String owner,
        @Nullable String description,
        @Nullable Map<String, String> support,
        @Nullable List<String> paths,
        @Nullable List<String> privateColumns,
        @Nullable List<Probe> probes) {
      this(name, owner, description, support, paths, privateColumns, probes, null);
    }
  }

  private static <T> T or(@Nullable T asked, T old) {
    return asked == null ? old : asked;
  }

  /**
   * Changes what people call it, who owns and supports it, what is private and what is asked.
   *
   * @param revision of the application that was looked at; null when nobody looked
   */
  public Application change(Person by, String key, Facts asked, @Nullable Integer revision) {
    return change(by, key, asked, revision, /* agreed= */ null);
  }

  /**
   * @param agreed a second person's word to other paths; null when it is asked for now
   */
  public Application change(
      Person by, String key, Facts asked, @Nullable Integer revision, @Nullable Agreed agreed) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, key);
    return second.change(
        by,
        agreed,
        kept -> {
          Application old = Retiring.requireInUse(kept, key);
          if (revision != null && revision != old.revision()) {
            throw Problem.changedMeanwhile(key);
          }
          or(asked.support(), Map.<String, String>of())
              .keySet()
              .forEach(
                  stage ->
                      kept.stages()
                          .find(stage)
                          .orElseThrow(() -> Problem.notFound("stage", stage)));
          or(asked.paths(), List.<String>of())
              .forEach(
                  path ->
                      kept.paths().find(path).orElseThrow(() -> Problem.notFound("path", path)));
          Application next =
              checked(
                  () ->
                      new Application(
                          old.id(),
                          key,
                          or(asked.name(), old.name()),
                          or(asked.owner(), old.owner()),
                          or(asked.description(), old.description()),
                          or(asked.support(), old.support()),
                          old.schema(),
                          or(asked.furtherSchemas(), old.furtherSchemas()),
                          or(asked.paths(), old.paths()),
                          or(asked.privateColumns(), old.privateColumns()),
                          or(asked.probes(), old.probes()),
                          old.repository(),
                          old.retired(),
                          old.revision()),
                  "/privateColumns");
          if (asked.furtherSchemas() != null) {
            requireFree(kept, key, asked.furtherSchemas());
          }
          openCases(kept, old, next);
          String changes = Changes.between(old, next);
          if (!kept.applications().update(next)) {
            throw Problem.changedMeanwhile(key);
          }
          kept.note(
              new Event(
                  by.login(), "application changed", key, null, null, null, null, null, changes),
              tools.now());
          return new Made<>(
              kept.applications().find(key).orElseThrow(),
              Proposed.application(next),
              SecondPerson.production(kept, guarded(kept, old, next)),
              List.of(new Place(Person.EVERY, key)),
              changes);
        });
  }

  /**
   * Stages of the paths that are left out or added, and of all when another is the ordinary one.
   */
  private static Set<String> guarded(Kept kept, Application old, Application next) {
    return old.paths().equals(next.paths())
        ? Set.of()
        : Stream.concat(old.paths().stream(), next.paths().stream())
            .distinct()
            .flatMap(path -> kept.paths().find(path).orElseThrow().stages().stream())
            .collect(Collectors.toSet());
  }

  /** What is under way by a path goes there by it. */
  private static void openCases(Kept kept, Application old, Application next) {
    if (old.paths().equals(next.paths())) {
      return;
    }
    List<String> open =
        kept
            .promotions()
            .list(Kept.Filter.application(old.key()).in(PromotionState.openCodes()))
            .stream()
            .filter(p -> !next.paths().contains(Objects.requireNonNullElse(p.path(), old.path())))
            .map(p -> p.shown() + " to " + p.site())
            .toList();
    if (!open.isEmpty()) {
      throw Problem.stopped(
          "CASES_OPEN",
          (open.size() == 1 ? "A promotion is" : "Promotions are")
              + " open by a path that is left out: "
              + String.join(", ", open)
              + ".",
          "plenzo promotion withdraw " + open.get(0).split(" ")[0] + " --reason …");
    }
  }
}
