package plenzo.engine.rehearsing;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.promotion.Promotion;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Changing;
import plenzo.core.target.RunMark;
import plenzo.core.target.Scratch;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesDelta.TableDelta;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.comparing.Compared;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/**
 * Tries the statements of a plan that change structures, on a copy of the structures without a row,
 * whenever a plan is made: what the engine refuses by structure alone is a blocker then, and is not
 * found at the switch. The site itself is only read.
 */
public final class StructureTrial {
  /** The only switch there is in the copy. */
  private static final long RUN = 1;

  private final Tools tools;
  private final Targets targets;

  public StructureTrial(Tools tools, Targets targets) {
    this.tools = tools;
    this.targets = targets;
  }

  /**
   * What the engine says of it; nothing where it takes all of it, or no structure changes. Who goes
   * back waits for nothing: ways back are tried by rehearsals alone.
   */
  public List<Finding> of(Promotion p, CaseWork.Outcome out) {
    if (p.rollback()) {
      return List.of();
    }
    TablesDelta bare = bare(out.delta().tables());
    boolean stopped = out.findings().stream().anyMatch(f -> f.severity() == Severity.BLOCKER);
    if (bare.isEmpty() || stopped) {
      return List.of();
    }
    Optional<Targets.At> at = targets.find(p.site(), Holder.DATABASE);
    if (at.isEmpty()) {
      return List.of();
    }
    if (at.get().target().scratch().isEmpty()) {
      return List.of(untried(p, "its database has no account that may make one of its own for it"));
    }
    // one that a kill left has the same name, and goes when the next one is made
    try (Copies copies = new Copies(targets, Scratch.Place.trialOf(p.number()))) {
      String why = copied(copies, at.get(), out.compared(), Copies.all(out.compared()));
      if (!why.isEmpty()) { // something beside it cannot be copied
        why = copied(copies, at.get(), out.compared(), Copies.near(out.compared(), bare));
      }
      return why.isEmpty()
          ? tried(p, copies, bare)
          : List.of(copies.lacking().isEmpty() ? untried(p, why) : lacking(p, why));
    } catch (TargetFailed e) {
      return List.of(untried(p, String.valueOf(e.getMessage())));
    } catch (RuntimeException e) { // a trial never keeps a plan from being made
      System.getLogger(StructureTrial.class.getName())
          .log(System.Logger.Level.WARNING, p.shown() + " could not be tried", e);
      return List.of(untried(p, "trying them failed here; the service's log says how"));
    }
  }

  /** The structures alone, with what is stated of their columns. */
  private static TablesDelta bare(TablesDelta delta) {
    return new TablesDelta(
        delta.tables().stream()
            .filter(
                t ->
                    t.structureChanges()
                        || delta.renaming().touches(t.table())
                        || !delta.madeAgain(t).isEmpty())
            .map(
                t ->
                    TableDelta.of(t.table(), t.present(), t.result(), null)
                        .converting(t.conversions()))
            .toList(),
        List.of(),
        delta.objects(),
        delta.renaming());
  }

  /** Why the structures cannot be made elsewhere; empty when they are. */
  private String copied(Copies copies, Targets.At at, Compared there, Set<ComponentKey> keys) {
    try {
      copies.tables(at, (table, structure) -> Scratch.Source.none(structure), there, keys);
      return "";
    } catch (TargetFailed e) {
      if (e.notReachable()) {
        throw e;
      }
      return String.valueOf(e.getMessage());
    }
  }

  private List<Finding> tried(Promotion p, Copies copies, TablesDelta bare) {
    Changing.Watch watch = Changing.Watch.quiet(() -> {});
    Targets.At at = copies.at(Holder.DATABASE);
    try (Changing session = copies.change(Holder.DATABASE)) {
      session.declare(
          at.identity(tools.keeper().service(), tools.now()), copies.account(Holder.DATABASE));
      session.claim();
      session.prepare(RUN, bare, watch);
      session.switchOver(mark(p), bare, watch);
      session.discard(RUN);
    } catch (SwitchRefused e) {
      return List.of(
          copies.lacking().isEmpty()
              ? refused(p, e)
              : lacking(p, said(e) + "; " + String.join("; ", copies.lacking())));
    }
    return compared(copies, bare);
  }

  private RunMark mark(Promotion p) {
    return new RunMark(
        RUN, "switch", 1, p.version().text(), "", p.preparedBy(), /* anchor= */ null);
  }

  /** What came of it, beside what was planned. */
  private static List<Finding> compared(Copies copies, TablesDelta bare) {
    Map<TableName, String> odd = new TreeMap<>(java.util.Comparator.comparing(TableName::toString));
    try (SiteLook look = copies.look()) {
      for (TableDelta t : bare.tables()) {
        TableStructure is = look.tables().table(t.table()).map(c -> c.structure()).orElse(null);
        if (!Objects.equals(is, t.result())) {
          odd.put(t.table(), difference(is, t.result()));
        }
      }
    }
    List<Finding> out = new ArrayList<>();
    odd.forEach(
        (table, how) ->
            out.add(
                Finding.said(
                    "structure-otherwise",
                    Severity.BLOCKER,
                    "table/" + table,
                    "Tried on a copy, the table is not what was planned: " + how + ".",
                    "Look at the plan's statements; tell whoever looks after Plenzo")));
    return out;
  }

  private static String difference(@Nullable TableStructure is, @Nullable TableStructure wanted) {
    if (is == null || wanted == null) {
      return is == null ? "it is not there" : "it is there still";
    }
    return !is.columns().equals(wanted.columns())
        ? "its columns are others"
        : !is.constraints().equals(wanted.constraints())
            ? "its constraints are others"
            : !is.indexes().equals(wanted.indexes())
                ? "its indexes are others"
                : "its comment is another";
  }

  private static Finding refused(Promotion p, SwitchRefused e) {
    return Finding.said(
        "structure-refused",
        Severity.BLOCKER,
        p.site().toString(),
        "Tried on a copy of the structures, the database refuses the plan: " + said(e),
        "Put it right in development, or at the site, and prepare again");
  }

  private static String said(SwitchRefused e) {
    return e.getMessage()
        + (e.details().isEmpty() ? "" : " (" + String.join("; ", e.details()) + ")");
  }

  /** The copy is not what the site is, so that nothing of the plan is known by it. */
  private static Finding lacking(Promotion p, String why) {
    return Finding.said(
        "structure-not-tried",
        Severity.RISK,
        p.site().toString(),
        "The statements that change structures could not be tried, nor can a backup of what uses such a thing be proven: "
            + why
            + ".",
        "Let an administrator lay a database plenzo_template with it where scratch places are made: see \"Extensions and scratch places\" in the operating guide");
  }

  private static Finding untried(Promotion p, String why) {
    return Finding.said(
        "structure-not-tried",
        Severity.NOTE,
        p.site().toString(),
        "The statements that change structures were not tried before: " + why + ".",
        "Name an account for scratch places in the set-up of stages");
  }
}
