package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.Looking;
import plenzo.core.target.RunSeen;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetId;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/**
 * Whether Plenzo's records are older than what a target remembers of its runs (decision D28): then
 * an earlier copy of the records was brought back, and what they say of the site is not so.
 */
public final class RecordsAge {
  private final Tools tools;
  private final Targets targets;

  public RecordsAge(Tools tools, Targets targets) {
    this.tools = tools;
    this.targets = targets;
  }

  /**
   * The newest run of a target that the records do not know, 0 when they know it.
   *
   * @param seen what the target remembers, newest first; empty where it does not tell
   */
  public long newerRun(TargetId target, List<RunSeen> seen) {
    if (seen.isEmpty()) {
      return 0;
    }
    RunSeen newest = seen.get(0);
    return tools
        .keeper()
        .read(
            kept -> {
              if (kept.fact(fact(target)).filter(text(newest)::equals).isPresent()) {
                return 0L;
              }
              Optional<Run> known = kept.runs().find(String.valueOf(newest.run()));
              boolean another =
                  known.isPresent()
                      && (!known.get().fingerprint().equals(newest.fingerprint())
                          || known.get().state() == RunState.STOPPED);
              return newest.run() > kept.last("run") || another ? newest.run() : 0L;
            });
  }

  /** The newest run at a site that the records do not know, 0 when they know all. */
  public long newerRun(SiteKey site, SiteLook look) {
    return targets.all(site).stream()
        .mapToLong(at -> newerRun(at.id(), look.runs(at.holder(), 1)))
        .max()
        .orElse(0);
  }

  /** A run that the records do not know, and where. */
  public record Newer(SiteKey site, TargetId id, String target, RunSeen run) {}

  /**
   * Runs that targets remember and the records do not know, of every target that answers.
   *
   * @param silent told of each target that does not
   */
  public List<Newer> newer(Consumer<String> silent) {
    List<Newer> out = new ArrayList<>();
    for (Stage stage : tools.keeper().read(kept -> kept.stages().all())) {
      for (Stage.Site s : stage.sites()) {
        SiteKey site = new SiteKey(stage.key(), s.key());
        if (stage.role() != Stage.Role.DEVELOPMENT && !s.targets().isEmpty()) {
          for (Targets.At at : targets.all(site)) {
            try (Looking look = targets.look(at)) {
              List<RunSeen> seen = look.runs(1);
              if (newerRun(at.id(), seen) > 0) {
                out.add(new Newer(site, at.id(), at.shown(), seen.get(0)));
              }
            } catch (TargetFailed | Problem e) {
              silent.accept(at.shown() + ": " + e.getMessage());
            }
          }
        }
      }
    }
    return out;
  }

  /**
   * Says that the records are older and stay so: numbers of runs go on behind what the targets
   * remember, and what was done by runs that are not recorded shows as drift.
   *
   * @return what was caught up with
   */
  public List<Newer> catchUp(Person by) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    List<Newer> found = newer(silent -> {});
    tools
        .keeper()
        .write(
            kept -> {
              for (Newer n : found) {
                kept.raise("run", n.run().run());
                kept.fact(fact(n.id()), text(n.run()));
                kept.note(
                    new Event(
                        by.login(),
                        "records caught up",
                        null,
                        n.site().stage(),
                        n.site().site(),
                        n.run().version(),
                        null,
                        n.run().run(),
                        n.target()
                            + " was changed by R-"
                            + n.run().run()
                            + ", which is not recorded"),
                    tools.now());
              }
              return null;
            });
    return found;
  }

  static String fact(TargetId target) {
    return "caught up with " + target;
  }

  static String text(RunSeen seen) {
    return "R-" + seen.run() + " " + seen.fingerprint();
  }
}
