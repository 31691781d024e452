package plenzo.engine.promoting;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.inventory.Catalogue;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.run.Sheet;
import plenzo.core.stage.SiteRecord;
import plenzo.core.table.PartDifference;
import plenzo.core.version.Version;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.ComparisonFiles;
import plenzo.engine.comparing.DriftList;
import plenzo.engine.comparing.Incoming;
import plenzo.engine.comparing.VersionIncoming;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/**
 * Whether a site holds after a run what the plan foresaw, of everything that can be looked at
 * (decision D24): what the plan wrote, and the catalogue of the schemas that it touches.
 */
public final class AfterRun {
  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;

  AfterRun(Tools tools, Targets targets, CaseWork work) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
  }

  /**
   * What was found.
   *
   * @param odd what is not as planned, a line each
   * @param look what differs from the version that is now recorded there
   * @param uncarried how many things stand there that Plenzo does not carry and only named
   */
  public record Found(List<String> odd, SiteRecord.Look look, int uncarried) {
    public Found {
      odd = List.copyOf(odd);
    }

    /** What was not compared, behind "as planned"; empty when that is nothing. */
    public String beside() {
      return uncarried == 0
          ? ""
          : "; "
              + Words.count(uncarried, "thing")
              + " that Plenzo does not carry stayed as "
              + (uncarried == 1 ? "it was" : "they were");
    }
  }

  private static String name(long run) {
    return "foreseen/R-" + run;
  }

  private static String sheetOf(long run) {
    return "sheet/R-" + run;
  }

  /** What stood there when a run had read it back; empty when it did not come to that. */
  Optional<Sheet> sheet(long run) {
    return text(sheetOf(run)).map(Sheet::of);
  }

  private void keep(String name, String text) {
    tools.files().write(name, to -> to.write(text.getBytes(StandardCharsets.UTF_8)));
  }

  /** What was kept under a name; empty when nothing was. */
  private Optional<String> text(String name) {
    if (!tools.files().exists(name)) {
      return Optional.empty();
    }
    try (InputStream in = tools.files().open(name, 0)) {
      return Optional.of(new String(in.readAllBytes(), StandardCharsets.UTF_8));
    } catch (IOException e) {
      throw new UncheckedIOException(name + " cannot be read", e);
    }
  }

  /** Keeps what stands in the schemas when nothing but the plan happens. */
  void foreseen(long run, CaseWork.Outcome out) {
    Catalogue after =
        catalogue(out.compared())
            .after(out.delta().tables(), out.compared().uncarried())
            .following(out.delta().tables(), out.compared().items().objects().values());
    keep(name(run), after.canonical());
  }

  private static Catalogue catalogue(Compared compared) {
    return Catalogue.of(
        compared.tables(), compared.items().objects().values(), compared.uncarried());
  }

  /** Null for a run of a Plenzo that did not keep it yet. */
  private @Nullable Catalogue kept(long run) {
    return text(name(run)).map(Catalogue::read).orElse(null);
  }

  Found look(Promotion p, long run) {
    List<Targets.At> ats = targets.all(p.site());
    Version version = work.versions().version(p.application(), p.version());
    Incoming incoming = work.incoming(p, work.record(p.application(), p.site()), version);
    try (SiteLook look = targets.look(ats)) {
      CaseWork.Seen now = work.see(p, look, ats, incoming);
      try {
        List<String> odd = new ArrayList<>(now.delta().places());
        changedSince(p, now.compared(), odd);
        Catalogue foreseen = kept(run);
        if (foreseen == null) {
          odd.add("what else stands in the schemas was not compared: nothing was kept of before");
        } else {
          Set<String> said = new HashSet<>();
          now.delta().tables().tables().forEach(t -> said.add("table " + t.table() + " "));
          foreseen.differing(catalogue(now.compared())).stream()
              .filter(line -> said.stream().noneMatch(line::startsWith))
              .forEach(odd::add);
        }
        if (odd.isEmpty()) { // else names may be others than the plan's
          work.numbers()
              .remember(
                  p.application(), p.site(), p.version(), look, now.compared().tables().keySet());
        }
        keep(
            sheetOf(run), new SheetOf(look, ats, now.compared(), odd).sheet(p, tools.now()).text());
        return new Found(
            odd, drift(p, look, ats, version, incoming, now), now.compared().uncarried().size());
      } finally {
        work.comparer().files().remove(now.compared().id());
      }
    }
  }

  /** What differs from the version that is recorded there from now on. */
  private SiteRecord.Look drift(
      Promotion p,
      SiteLook look,
      List<Targets.At> ats,
      Version version,
      Incoming incoming,
      CaseWork.Seen now) {
    if (p.way() != Plan.Way.BACKUP && (p.brings() || p.bringsBack())) {
      return look(p, look, now.compared(), incoming);
    }
    // a backup may hold what differed from the version then, and a put-back may be of a part
    VersionIncoming whole = new VersionIncoming(work.contents(), version, version, Set.of());
    Compared recorded = work.see(p, look, ats, whole).compared();
    try {
      return look(p, look, recorded, whole);
    } finally {
      work.comparer().files().remove(recorded.id());
    }
  }

  private SiteRecord.Look look(Promotion p, SiteLook at, Compared c, Incoming incoming) {
    return new SiteRecord.Look(
        c.structureDrift(),
        c.recordsDrift(),
        c.driftExamples(),
        tools.now(),
        true,
        0,
        new DriftList(tools)
            .write(
                work.record(p.application(), p.site()),
                at,
                c,
                incoming,
                work.paths().application(p.application()).schema(),
                /* rows= */ true));
  }

  /**
   * What the plan wrote and somebody changed since: a conflict now that was none in the plan. What
   * the plan left as it was is drift, and is said as that.
   */
  private void changedSince(Promotion p, Compared now, List<String> out) {
    Map<ComponentKey, Integer> places = new HashMap<>();
    p.components().forEach(c -> places.put(c.key(), places.size()));
    for (int n = 0; n < now.components().size(); n++) {
      ComponentResult c = now.components().get(n);
      if (c.counts().conflict() == 0) {
        continue;
      }
      Integer place = places.get(c.key());
      ComponentResult then = place == null ? null : p.components().get(place);
      long odd =
          c.key().kind() == Kind.RECORDS && p.comparison() != null && place != null
              ? rows(now, n, p.comparison(), place)
              : parts(c, then);
      if (odd > 0) {
        out.add(c.key() + ": " + Words.count(odd, c.key().kind() == Kind.RECORDS ? "row" : "part"));
      }
    }
  }

  private static long parts(ComponentResult now, @Nullable ComponentResult then) {
    Set<String> foreseen = new HashSet<>();
    if (then != null) {
      then.parts().stream()
          .filter(x -> left(x.difference()))
          .map(PartDifference::path)
          .forEach(foreseen::add);
    }
    if (now.parts().isEmpty()) {
      return then != null && left(then.difference()) ? 0 : 1;
    }
    return now.parts().stream()
        .filter(x -> x.difference() == Difference.CONFLICT && !foreseen.contains(x.path()))
        .count();
  }

  private static boolean left(Difference d) {
    return d == Difference.CONFLICT || d == Difference.KEPT;
  }

  /** Rows in conflict now that the plan neither left in conflict nor as they were. */
  private long rows(Compared now, int n, String plan, int place) {
    ComparisonFiles files = work.comparer().files();
    List<Difference> left = List.of(Difference.CONFLICT, Difference.KEPT);
    long odd = 0;
    try (ComparisonFiles.Merged is = files.merged(now.id(), n, List.of(Difference.CONFLICT));
        ComparisonFiles.Merged was = files.merged(plan, place, left)) {
      RowDifference before = was.next();
      for (RowDifference row = is.next(); row != null; row = is.next()) {
        while (before != null && before.any().compareKey(row.any()) < 0) {
          before = was.next();
        }
        boolean foreseen = before != null && before.any().compareKey(row.any()) == 0;
        odd += foreseen ? 0 : 1;
      }
    }
    return odd;
  }
}
