package plenzo.engine.timing;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;
import plenzo.core.stage.Application;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Onward;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.Since;
import plenzo.engine.Tools;

/**
 * From one link to the next: a version that was sealed goes to the first stage of its path, one
 * that came to a stage (and was judged good there, where the next leg asks for that) to the next,
 * each where its leg says so. The history is what it follows, so nothing is passed over by a kill.
 */
public final class Chain {
  private static final Set<String> SEALED = Set.of("sealed", "package brought in");
  private static final Set<String> CAME = Set.of("run done", "judged good");

  private final Tools tools;
  private final Errands errands;
  private final Since since = new Since("chained until");

  public Chain(Tools tools, Errands errands) {
    this.tools = tools;
    this.errands = errands;
  }

  /** What the service does every few seconds. */
  public void goOn() {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              for (HistoryEntry e : since.read(kept)) {
                follow(kept, e);
              }
              return null;
            });
  }

  private void follow(Kept kept, HistoryEntry e) {
    boolean link = SEALED.contains(e.event()) || CAME.contains(e.event());
    if (!link || e.application() == null || e.version() == null) {
      return;
    }
    Application a = kept.applications().find(e.application()).orElse(null);
    if (a == null || a.retired() != null) {
      return;
    }
    SemVer version = new SemVer(e.version());
    for (String key : a.paths()) {
      Path path = kept.paths().find(key).orElse(null);
      if (path == null) {
        continue;
      }
      if (SEALED.contains(e.event())) {
        goes(kept, a, path, path.legs().get(0), version, version + " was sealed", null);
      } else if (CAME.contains(e.event()) && e.stage() != null) {
        next(path, e.stage())
            .filter(leg -> !leg.verdict() || judged(kept, a, e, version))
            .ifPresent(leg -> goes(kept, a, path, leg, version, cause(e), e.run()));
      }
    }
  }

  private static String cause(HistoryEntry e) {
    return e.version()
        + (e.event().equals("judged good") ? " was judged good at " : " came to ")
        + e.stage()
        + "/"
        + e.site();
  }

  private static Optional<Leg> next(Path path, String stage) {
    int i = path.stages().indexOf(stage);
    return i < 0 || i + 1 >= path.legs().size()
        ? Optional.empty()
        : Optional.of(path.legs().get(i + 1));
  }

  private static boolean judged(Kept kept, Application a, HistoryEntry e, SemVer version) {
    return kept.sites()
        .find(a.key() + "@" + new SiteKey(String.valueOf(e.stage()), String.valueOf(e.site())))
        .flatMap(r -> r.verdict(version))
        .filter(SiteRecord.Verdict::good)
        .isPresent();
  }

  private void goes(
      Kept kept,
      Application a,
      Path path,
      Leg leg,
      SemVer version,
      String cause,
      @Nullable Long after) {
    Onward onward = leg.onward();
    if (onward == null) {
      return;
    }
    for (SiteKey site : sites(kept, a, leg)) {
      if (newer(kept, a, site, version)) {
        errands.send(
            kept,
            new Errands.Asked(
                cause, after, path.key(), a.key(), version, site, onward.how(), onward.by()));
      }
    }
  }

  /** Sites of a leg's stage to which an application may go. */
  static List<SiteKey> sites(Kept kept, Application a, Leg leg) {
    Stage stage = kept.stages().find(leg.stage()).orElse(null);
    return stage == null
        ? List.of()
        : stage.sites().stream()
            .map(s -> new SiteKey(stage.key(), s.key()))
            .filter(s -> present(kept, a, s) != null)
            .toList();
  }

  private static @Nullable SemVer present(Kept kept, Application a, SiteKey site) {
    return kept.sites().find(a.key() + "@" + site).map(SiteRecord::present).orElse(null);
  }

  /** Whether a site has an earlier one: nothing goes back by itself here. */
  static boolean newer(Kept kept, Application a, SiteKey site, SemVer version) {
    SemVer present = present(kept, a, site);
    return present != null && version.compareTo(present) > 0;
  }
}
