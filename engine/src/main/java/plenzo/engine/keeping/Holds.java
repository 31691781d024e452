package plenzo.engine.keeping;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Sight;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.retention.Sort;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.source.SourceCopies;
import plenzo.core.stage.SiteRecord;
import plenzo.core.trust.Parcel;
import plenzo.core.version.SemVer;

/**
 * Why something stays whatever its age: a way back needs it, a case is open, a run has not ended, a
 * version is at a site. Each way back to the last good version needs every backup since that one
 * was there: both ways bring back out of them what was dropped.
 */
final class Holds {
  private final Kept kept;
  private final Map<String, String> by = new HashMap<>();
  private final Map<String, String> versions = new HashMap<>();

  private Holds(Kept kept) {
    this.kept = kept;
  }

  /** Reasons by the item's id. */
  static Holds read(Kept kept) {
    Holds out = new Holds(kept);
    each(kept.sites(), List.of(), out::site);
    each(kept.promotions(), PromotionState.openCodes(), out::open);
    each(kept.runs(), RunState.openCodes(), out::running);
    return out;
  }

  /** Every one of a shelf, a part at a time: one that is passed over would not be held. */
  static <T> void each(Kept.Shelf<T> shelf, List<String> states, Consumer<T> to) {
    long from = 0;
    do {
      Slice<T> part =
          shelf.slice(
              new Kept.Filter(null, null, null, states, from, Kept.Filter.MOST), Sight.EVERYWHERE);
      part.items().forEach(to);
      from = part.next();
    } while (from != 0);
  }

  Map<String, String> reasons() {
    return by;
  }

  static String id(Sort sort, String name) {
    return sort.code() + "/" + name;
  }

  private void hold(Sort sort, String name, String why) {
    by.putIfAbsent(id(sort, name), why);
  }

  /** What would be lost on a way back is counted from what its run's comparison listed. */
  private void backup(Run r, String why) {
    hold(Sort.BACKUP, r.shown(), why);
    hold(Sort.COMPARISON, "P-" + r.promotion(), why);
  }

  private void site(SiteRecord r) {
    String where = r.application() + " at " + r.site();
    kept.lastRun(r).ifPresent(run -> backup(run, "the newest backup of " + where));
    SemVer present = r.present();
    if (present == null) {
      return;
    }
    versions.putIfAbsent(r.application() + "@" + present, "it is at " + r.site());
    SemVer good = r.halfWritten() ? present : r.lastGood().orElse(null);
    if (good != null) {
      versions.putIfAbsent(r.application() + "@" + good, "one can go back to it at " + r.site());
      since(r, good, "the way back of " + where + " to " + good + " needs it");
    }
  }

  /** Every backup since a version was there; of all runs there when it was not left by a run. */
  private void since(SiteRecord r, SemVer to, String why) {
    kept.halfWritten(r).ifPresent(run -> backup(run, why));
    List<SiteRecord.Placement> placements = r.placements();
    for (int n = placements.size() - 1; n >= 0; n--) {
      Run run = run(placements.get(n).run());
      if (run == null) {
        return;
      }
      backup(run, why);
      if (to.text().equals(run.before())) {
        return;
      }
    }
  }

  private @Nullable Run run(@Nullable Long number) {
    return number == null ? null : kept.runs().find(String.valueOf(number)).orElse(null);
  }

  private void open(Promotion p) {
    String why = p.shown() + " is open";
    hold(Sort.COMPARISON, p.shown(), why);
    versions.putIfAbsent(p.application() + "@" + p.version(), why);
    if (p.backupOf() != null) {
      Run taken = run(p.backupOf());
      if (taken != null) {
        backup(taken, why);
      }
    }
    if (p.rollback()) {
      kept.sites()
          .find(p.application() + "@" + p.site())
          .ifPresent(r -> since(r, p.version(), why + " and goes back"));
    }
    kept.runs()
        .of(p.number())
        .forEach(
            r -> {
              backup(r, why);
              hold(Sort.LOG, r.shown(), why);
            });
  }

  private void running(Run r) {
    String why = r.shown() + " has not ended";
    backup(r, why);
    hold(Sort.LOG, r.shown(), why);
    hold(Sort.COMPARISON, "P-" + r.promotion(), why);
  }

  /** A package of a version that is somewhere or on its way, or that waits to be brought in. */
  void parcel(Parcel p) {
    if (p.state() == Parcel.State.RECEIVED) {
      hold(Sort.PACKAGE, p.id(), "it waits to be brought in");
    }
    String why = versions.get(p.application() + "@" + p.number());
    if (why != null) {
      hold(Sort.PACKAGE, p.id(), why);
    }
  }

  /** The newest copy of a source is what there is when the source itself is lost. */
  void copies(SourceCopies of) {
    of.newest().ifPresent(c -> hold(Sort.COPY, c.id(), "the newest copy of " + of.application()));
  }

  void evidence(String shown, String application, SemVer version) {
    String why = versions.get(application + "@" + version);
    if (why != null) {
      hold(Sort.EVIDENCE, shown, why);
    }
  }
}
