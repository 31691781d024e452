package plenzo.engine.looking;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.run.Journal;
import plenzo.core.run.NextStep;
import plenzo.core.run.Run;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.TargetFailed;
import plenzo.core.telling.Call;
import plenzo.core.telling.CallOrder;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.running.Runs;

/**
 * What somebody must know who is woken by a run, in a fixed order: whether users are out, what each
 * target holds, which ways lead on and back, and who may act and how they are reached.
 */
public final class Night {
  private final Tools tools;
  private final Runs runs;
  private final Rollbacks rollbacks;

  public Night(Tools tools, Runs runs, Rollbacks rollbacks) {
    this.tools = tools;
    this.runs = runs;
    this.rollbacks = rollbacks;
  }

  /** A target and what it holds. */
  public record Held(String target, Journal.Holds holds) {}

  /**
   * A way back.
   *
   * @param words whether it can be used, what it loses, or why not
   */
  public record Way(String code, boolean possible, String words) {}

  /**
   * Somebody who may act.
   *
   * @param how they are reached; empty where nobody said
   */
  public record Hand(String login, String name, String how) {}

  /**
   * @param users in or out, in words
   * @param on what leads on, in words; empty where nothing is asked
   * @param ways back; empty while it runs
   * @param noWays why there are none; empty where they are told
   * @param called who was called about it, in words
   */
  public record Told(
      Run run,
      String users,
      List<Held> targets,
      String on,
      List<Way> ways,
      String noWays,
      List<Hand> hands,
      List<String> called) {}

  public Told tell(Person by, long number) {
    Run run = runs.get(by, number);
    Journal journal = tools.keeper().read(kept -> kept.journal(number));
    List<Held> targets =
        run.goal().targets().stream().map(t -> new Held(t.shown(), journal.holds(t.id()))).toList();
    List<Way> ways = new ArrayList<>();
    String noWays = "";
    if (run.state().ended()) {
      try {
        rollbacks.ways(by, run.application(), run.site(), Rollbacks.Wish.NONE).stream()
            .map(Night::way)
            .forEach(ways::add);
      } catch (Problem | TargetFailed e) {
        noWays = String.valueOf(e.getMessage());
      }
    } else {
      noWays = run.shown() + " has not ended: it is aborted first, or goes on.";
    }
    return new Told(
        run, users(run), targets, on(by, run), ways, noWays, hands(run), called(number));
  }

  private String users(Run run) {
    Runs.UsersOut out = runs.usersOut(run);
    return out.now()
        ? "Users are kept out" + run.usersOutSince().map(t -> " since " + t).orElse("")
        : run.usersOutSince().isPresent() && out.until() != null
            ? "Users are in again since " + out.until()
            : "Users are in: this run did not keep them out";
  }

  private String on(Person by, Run run) {
    if (!run.state().ended()) {
      return run.pause() == null ? "It is at work." : "It is paused: " + run.pause().reason();
    }
    return tools
        .keeper()
        .read(
            kept ->
                kept.promotions()
                    .find(String.valueOf(run.promotion()))
                    .flatMap(p -> NextStep.of(run, p, record(kept, run))))
        .map(NextStep::words)
        .orElse("");
  }

  private static SiteRecord record(Kept kept, Run run) {
    return kept.sites()
        .find(run.application() + "@" + run.site())
        .orElse(SiteRecord.none(run.application(), run.site()));
  }

  private static Way way(Rollbacks.Option o) {
    String loss =
        !o.lossSentence().isBlank()
            ? o.lossSentence()
            : o.lost() < 0
                ? "What it loses cannot be known."
                : o.lost() == 0
                    ? "It loses nothing that was counted."
                    : "It loses " + Words.count(o.lost(), "row") + ".";
    return new Way(
        o.way().code(),
        o.possible(),
        o.possible()
            ? (o.version() == null ? "" : "to " + o.version() + ": ") + loss
            : "cannot be used: " + o.why());
  }

  /** Those of the stage's list first, in its order; then whoever may go back there. */
  private List<Hand> hands(Run run) {
    String stage = run.site().stage();
    CallOrder order =
        tools.keeper().read(kept -> kept.callOrders().find(stage)).orElse(CallOrder.none(stage));
    List<Person> able =
        tools.everybody().stream()
            .filter(p -> !p.disabled())
            .filter(
                p ->
                    p.may(Right.GO_BACK, stage, run.application())
                        || p.may(Right.RUN, stage, run.application()))
            .toList();
    List<Hand> out = new ArrayList<>();
    for (CallOrder.Callee c : order.callees()) {
      tools.somebody(c.login()).ifPresent(p -> out.add(new Hand(p.login(), p.name(), c.how())));
    }
    able.stream()
        .filter(p -> out.stream().noneMatch(h -> h.login().equals(p.login())))
        .forEach(p -> out.add(new Hand(p.login(), p.name(), mail(p))));
    return out;
  }

  private String mail(Person p) {
    return tools
        .keeper()
        .read(kept -> kept.followings().find(p.login()))
        .map(f -> f.mail())
        .orElse("");
  }

  private List<String> called(long run) {
    List<Call> about =
        tools.keeper().read(kept -> kept.calls().all()).stream()
            .filter(c -> c.run() != null && c.run() == run)
            .toList();
    List<String> out = new ArrayList<>();
    for (Call c : about) {
      @Nullable String who = c.by();
      out.add(
          c.shown()
              + " "
              + c.state().code()
              + (who == null ? "" : " by " + who)
              + ": "
              + c.cause()
              + String.join(
                  "",
                  c.told().stream()
                      .map(t -> "; " + (t.login().isEmpty() ? "" : t.login() + " ") + t.words())
                      .toList()));
    }
    return out;
  }

  /** All of it as text, to be sent on. */
  public static String text(Told t) {
    Run r = t.run();
    List<String> out = new ArrayList<>();
    out.add(
        r.shown()
            + " "
            + r.application()
            + " "
            + r.version()
            + " at "
            + r.site()
            + ": "
            + r.state().code());
    if (r.sentence() != null) {
      out.add(r.sentence());
    }
    out.add("");
    out.add(t.users() + ".");
    out.add("");
    out.add("What each target holds:");
    t.targets().forEach(h -> out.add("  " + h.target() + ": " + words(h.holds(), r)));
    out.add("");
    out.add("On: " + (t.on().isEmpty() ? "nothing is asked" : t.on()));
    out.add("Back:" + (t.noWays().isEmpty() ? "" : " " + t.noWays()));
    t.ways().forEach(w -> out.add("  " + w.code() + " " + w.words()));
    out.add("");
    out.add("Who may act:");
    t.hands()
        .forEach(
            h ->
                out.add(
                    "  "
                        + h.login()
                        + (h.name().equals(h.login()) ? "" : " (" + h.name() + ")")
                        + (h.how().isEmpty() ? "" : ": " + h.how())));
    t.called().forEach(c -> out.add("Called: " + c));
    return String.join("\n", out) + "\n";
  }

  /** "new: 2.4.0". */
  public static String words(Journal.Holds holds, Run r) {
    return switch (holds) {
      case OLD -> "old: " + (r.before() == null ? "as it was" : r.before());
      case NEW -> "new: " + r.version();
      case UNKNOWN -> "unknown: it has not said yet";
    };
  }
}
