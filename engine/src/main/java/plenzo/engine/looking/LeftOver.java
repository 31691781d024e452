package plenzo.engine.looking;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.Changing;
import plenzo.core.target.Leftover;
import plenzo.core.target.Looking;
import plenzo.core.target.Scratch;
import plenzo.core.target.SwitchRefused;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Targets;

/**
 * What earlier runs left at a site: what Plenzo put beside the content and nothing needs any more,
 * and what of the content was kept on purpose.
 */
public final class LeftOver {
  /** Runs that are searched for where something was kept (guess: older ones are not named). */
  private static final int RUNS = 200;

  private final Tools tools;
  private final Targets targets;

  public LeftOver(Tools tools, Targets targets) {
    this.tools = tools;
    this.targets = targets;
  }

  /** What sort of thing is left. */
  public enum Sort {
    /** Part of the content, kept by a decision. */
    KEPT("kept on purpose"),
    PREPARED("put there before a switch"),
    BEFORE("as it was before a switch"),
    SCRATCH("restored to prove a backup"),
    REHEARSAL("made to rehearse a plan");

    private final String shown;

    Sort(String shown) {
      this.shown = shown;
    }

    /** As people read it. */
    public String shown() {
      return shown;
    }

    static Sort of(Leftover.Sort sort) {
      return switch (sort) {
        case PREPARED -> PREPARED;
        case BEFORE -> BEFORE;
        case SCRATCH -> SCRATCH;
        case REHEARSAL -> REHEARSAL;
      };
    }
  }

  /**
   * One thing that is left.
   *
   * @param target the target's name; empty of what was kept on purpose
   * @param name by which it is cleared
   * @param run that left it; null when no run here is known to
   * @param bytes null when the target does not tell
   * @param since when that run ended
   * @param why why it cannot be cleared; empty when it can
   */
  public record Item(
      String target,
      Sort sort,
      String name,
      @Nullable Long run,
      @Nullable Long bytes,
      @Nullable Instant since,
      String why) {}

  /** What lies at one target, with what is needed to clear it. */
  private record Found(Targets.At at, Leftover what, Item item) {}

  /**
   * All of it, looked up now.
   *
   * @throws plenzo.core.target.TargetFailed when a target does not answer
   */
  public List<Item> list(Person by, String application, SiteKey site) {
    SiteRecord r = Recorded.at(tools, by, application, site);
    List<Item> out = new ArrayList<>();
    Map<String, Run> keeping = r.exceptions().isEmpty() ? Map.of() : keeping(application, site);
    for (String place : r.exceptions()) {
      Run kept = keeping.get(place);
      out.add(
          new Item(
              "",
              Sort.KEPT,
              place,
              kept == null ? null : kept.number(),
              null,
              kept == null ? null : kept.times().endedAt(),
              ""));
    }
    found(application, site).stream()
        .sorted(
            Comparator.comparing((Found f) -> f.what.run())
                .reversed()
                .thenComparing(f -> f.what.name()))
        .forEach(f -> out.add(f.item));
    return out;
  }

  /** By places, the newest run that went through and whose plan decided about it. */
  private Map<String, Run> keeping(String application, SiteKey site) {
    Kept.Filter newest =
        new Kept.Filter(application, site.stage(), site.site(), List.of(), 0, RUNS);
    return tools
        .keeper()
        .read(
            kept -> {
              Map<String, Run> out = new HashMap<>();
              for (Run run : kept.runs().list(newest)) {
                if (run.state().applied()) {
                  kept.promotions()
                      .find(String.valueOf(run.promotion()))
                      .ifPresent(
                          p -> p.decisions().keySet().forEach(at -> out.putIfAbsent(at, run)));
                }
              }
              return out;
            });
  }

  private List<Found> found(String application, SiteKey site) {
    List<Found> out = new ArrayList<>();
    for (Targets.At at : targets.all(site)) {
      try (Looking look = targets.look(at)) {
        look.leftovers().forEach(l -> add(out, application, at, l));
      }
      if (at.holder() == Kind.Holder.DATABASE && !at.target().scratch().isEmpty()) {
        try (Scratch scratch = targets.scratch(at)) {
          scratch.leftovers().forEach(l -> add(out, application, at, l));
        }
      }
    }
    return out;
  }

  /**
   * A server may hold scratch places of other sites, and a database may be shared by applications:
   * what is theirs is shown there.
   */
  private void add(List<Found> out, String application, Targets.At at, Leftover l) {
    if (l.sort() == Leftover.Sort.REHEARSAL) {
      addRehearsed(out, application, at, l);
      return;
    }
    Run run =
        tools
            .keeper()
            .read(kept -> kept.runs().find(String.valueOf(l.run())))
            .filter(x -> x.goal().site().equals(at.site()))
            .orElse(null);
    if (run == null
        ? l.sort() == Leftover.Sort.SCRATCH
        : !run.goal().application().equals(application)) {
      return;
    }
    out.add(
        new Found(
            at,
            l,
            new Item(
                at.target().key(),
                Sort.of(l.sort()),
                l.name(),
                run == null ? null : run.number(),
                l.bytes(),
                run == null ? null : run.times().endedAt(),
                whyNot(run))));
  }

  private void addRehearsed(List<Found> out, String application, Targets.At at, Leftover l) {
    long tried = Scratch.Place.promotionOf(l);
    if (tried > 0) {
      addTried(out, application, at, l, tried);
      return;
    }
    tools
        .keeper()
        .read(kept -> kept.rehearsals().find(String.valueOf(l.run())))
        .filter(r -> r.site().equals(at.site()) && r.application().equals(application))
        .ifPresent(
            r -> out.add(copy(at, l, r.ended(), r.over() ? "" : r.shown() + " is not over.")));
  }

  /** A copy of structures that a kill left when a plan was made. */
  private void addTried(
      List<Found> out, String application, Targets.At at, Leftover l, long promotion) {
    tools
        .keeper()
        .read(kept -> kept.promotions().find(String.valueOf(promotion)))
        .filter(p -> p.site().equals(at.site()) && p.application().equals(application))
        .ifPresent(
            p ->
                out.add(
                    copy(
                        at,
                        l,
                        p.comparedAt(),
                        p.state() == PromotionState.PREPARING
                            ? p.shown() + " is being compared."
                            : "")));
  }

  /**
   * @param whyNot why it cannot be cleared now, or empty
   */
  private static Found copy(Targets.At at, Leftover l, @Nullable Instant since, String whyNot) {
    return new Found(
        at,
        l,
        new Item(at.target().key(), Sort.REHEARSAL, l.name(), null, l.bytes(), since, whyNot));
  }

  private static String whyNot(@Nullable Run run) {
    if (run == null) {
      return "It is of no run that is known here: look what it is, and remove it by hand.";
    }
    if (!run.state().ended()) {
      return run.shown() + " is not over.";
    }
    return run.state() == RunState.HALF_WRITTEN
        ? run.shown() + " is half written: go back first."
        : "";
  }

  /**
   * Clears what is left: what Plenzo put there is removed; what was kept on purpose counts as drift
   * from then on, and is settled like any other.
   *
   * @param names as the list has them
   * @return what is left afterwards
   * @throws Problem when one of them is not there or cannot be cleared; then nothing is
   */
  public List<Item> clear(Person by, String application, SiteKey site, Collection<String> names) {
    SiteRecord r = Recorded.at(tools, by, application, site);
    Rights.require(by, Right.OPERATE, site.stage(), application);
    if (names.isEmpty()) {
      throw Problem.invalid("NAMES", "Name what is cleared.", "/names");
    }
    Set<String> asked = new LinkedHashSet<>(names);
    List<Found> found =
        found(application, site).stream().filter(f -> asked.contains(f.item.name())).toList();
    requireClear(asked, r, found);
    for (Targets.At at : found.stream().map(Found::at).distinct().toList()) {
      clear(by, r, at, found.stream().filter(f -> f.at.equals(at)).toList());
    }
    List<String> kept = r.exceptions().stream().filter(asked::contains).toList();
    if (!kept.isEmpty()) {
      tools
          .keeper()
          .writeAgain(
              k -> {
                SiteRecord now = k.sites().find(r.id()).orElseThrow();
                k.sites().replace(now.withoutExceptions(kept));
                Recorded.note(tools, k, by.login(), now, "kept no more", String.join(", ", kept));
                return null;
              });
    }
    return list(by, application, site);
  }

  private static void requireClear(Set<String> asked, SiteRecord r, List<Found> found) {
    for (String name : asked) {
      Predicate<Found> named = f -> f.item.name().equals(name);
      if (!r.exceptions().contains(name) && found.stream().noneMatch(named)) {
        throw Problem.notFound("left over thing", name);
      }
      found.stream()
          .filter(named)
          .filter(f -> !f.item.why().isEmpty())
          .findFirst()
          .ifPresent(
              f -> {
                throw Problem.stopped("NOT_CLEARED", name + " stays: " + f.item.why());
              });
    }
  }

  /** What was cleared is noted, also when the target failed in the middle. */
  private void clear(Person by, SiteRecord r, Targets.At at, List<Found> all) {
    List<String> done = new ArrayList<>();
    // a database's scratch place is another database; what files were proven in lies beside them
    Predicate<Found> elsewhere =
        f ->
            at.holder() == Kind.Holder.DATABASE
                && (f.what.sort() == Leftover.Sort.SCRATCH
                    || f.what.sort() == Leftover.Sort.REHEARSAL);
    try {
      if (all.stream().anyMatch(elsewhere)) {
        try (Scratch scratch = targets.scratch(at)) {
          each(all, elsewhere, done, l -> scratch.drop(Scratch.Place.of(l)));
        }
      }
      if (all.stream().anyMatch(elsewhere.negate())) {
        try (Changing changing = targets.change(at)) {
          changing.claim();
          each(all, elsewhere.negate(), done, changing::clear);
        }
      }
    } catch (SwitchRefused e) {
      throw Problem.stopped(
          "TARGET_BUSY",
          e.getMessage()
              + (done.isEmpty()
                  ? ": nothing of it was cleared."
                  : ": of it only " + String.join(", ", done) + " was cleared."));
    } finally {
      if (!done.isEmpty()) {
        tools
            .keeper()
            .writeAgain(
                kept -> {
                  Recorded.note(
                      tools,
                      kept,
                      by.login(),
                      r,
                      "left over cleared",
                      at.target().key() + ": " + String.join(", ", done));
                  return null;
                });
      }
    }
  }

  private static void each(
      List<Found> all,
      Predicate<Found> which,
      List<String> done,
      java.util.function.Consumer<Leftover> act) {
    for (Found f : all.stream().filter(which).toList()) {
      act.accept(f.what);
      done.add(f.item.name());
    }
  }
}
