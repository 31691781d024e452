package plenzo.engine.sealing;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RecordsComparison;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.RowReader;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.table.PartDifference;
import plenzo.core.table.Renaming;
import plenzo.core.table.StructureComparison;
import plenzo.core.table.TableStructure;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.comparing.PieceDifference;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;

/** Sealed versions: listed, compared with one another, withdrawn. */
public final class Versions {
  private static final String WITHDRAWN = "version withdrawn";

  /**
   * The newest versions of one number, among which those that somebody may see are found (guess).
   */
  private static final int LOOKED_THROUGH = 2_000;

  private final Tools tools;
  private final Contents contents;

  public Versions(Tools tools, Contents contents) {
    this.tools = tools;
    this.contents = contents;
  }

  /** Sealed last first; nothing where the person may not look. */
  public Slice<VersionHead> list(Person by, Kept.Filter filter) {
    String application = String.valueOf(filter.application());
    return by.may(Right.LOOK, Person.ANY, application)
        ? tools.keeper().read(kept -> kept.versions().slice(filter))
        : Slice.whole(List.of());
  }

  /** Of all applications that the person may see, versions whose number begins so. */
  public List<VersionHead> numbered(Person by, String begins, int most) {
    List<VersionHead> newest = tools.keeper().read(kept -> kept.versions().numbered(begins, most));
    List<VersionHead> visible = visible(by, newest);
    return visible.size() == newest.size()
        ? visible
        : visible(by, tools.keeper().read(kept -> kept.versions().numbered(begins, LOOKED_THROUGH)))
            .stream()
            .limit(most)
            .toList();
  }

  private static List<VersionHead> visible(Person by, List<VersionHead> all) {
    return all.stream().filter(v -> by.may(Right.LOOK, Person.ANY, v.application())).toList();
  }

  /** The highest number of an application; empty where there is none that the person may see. */
  public Optional<SemVer> highest(Person by, String application) {
    return by.may(Right.LOOK, Person.ANY, application)
        ? tools.keeper().read(kept -> kept.versions().list(application)).stream()
            .map(VersionHead::number)
            .max(Comparator.naturalOrder())
        : Optional.empty();
  }

  public VersionHead head(Person by, String application, SemVer number) {
    return tools
        .keeper()
        .read(kept -> kept.versions().head(application + "@" + number))
        .filter(v -> by.may(Right.LOOK, Person.ANY, v.application()))
        .orElseThrow(() -> Problem.notFound("version", application + "@" + number));
  }

  public Version get(Person by, String application, SemVer number) {
    return tools
        .keeper()
        .read(kept -> kept.versions().find(application + "@" + number))
        .filter(v -> by.may(Right.LOOK, Person.ANY, v.application()))
        .orElseThrow(() -> Problem.notFound("version", application + "@" + number));
  }

  /**
   * One thing that became of a version.
   *
   * @param what sealed, came, left, judged-good, judged-bad or withdrawn
   * @param site null where it is of no site
   * @param text why, or by which run
   */
  public record Fate(String what, @Nullable SiteKey site, Instant at, String by, String text) {}

  /** What became of a version at the sites that the person may see, oldest first. */
  public List<Fate> fate(Person by, String application, SemVer number) {
    VersionHead v = head(by, application, number);
    List<Fate> out = new ArrayList<>();
    Kept.Filter here = Kept.Filter.application(application);
    out.add(new Fate("sealed", null, v.sealedAt(), v.author(), v.source()));
    for (SiteRecord r : tools.keeper().read(kept -> kept.sites().list(here))) {
      if (by.may(Right.LOOK, r.site().stage(), application)) {
        placed(r, number, out);
        r.verdicts().stream()
            .filter(w -> w.version().equals(number))
            .forEach(
                w ->
                    out.add(
                        new Fate(
                            w.good() ? "judged-good" : "judged-bad",
                            r.site(),
                            w.at(),
                            w.by(),
                            w.reason())));
      }
    }
    if (v.withdrawn()) {
      withdrawn(application, number).ifPresent(out::add);
    }
    out.sort(Comparator.comparing(Fate::at));
    return out;
  }

  /** When it came to a site, and what came instead of it. */
  private static void placed(SiteRecord r, SemVer number, List<Fate> out) {
    SemVer before = null;
    for (SiteRecord.Placement p : r.placements()) {
      String run = p.run() == null ? p.how() : "R-" + p.run();
      if (number.equals(p.version()) && !number.equals(before)) {
        out.add(new Fate("came", r.site(), p.at(), p.by(), run));
      } else if (number.equals(before) && !number.equals(p.version())) {
        out.add(new Fate("left", r.site(), p.at(), p.by(), p.version() + " by " + run));
      }
      before = p.version();
    }
  }

  private Optional<Fate> withdrawn(String application, SemVer number) {
    Kept.HistoryFilter filter =
        new Kept.HistoryFilter(application, null, WITHDRAWN, null, 0, Kept.Filter.MOST);
    return tools.keeper().read(kept -> kept.history(filter)).stream()
        .filter(e -> number.text().equals(e.version()))
        .findFirst()
        .map(e -> new Fate("withdrawn", null, e.at(), e.actor(), e.text()));
  }

  /** A withdrawn version can no longer be promoted, but serves for going back. */
  public VersionHead withdraw(Person by, String application, SemVer number, String reason) {
    Rights.require(by, Right.AUTHOR, Person.ANY, application);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Withdrawing needs a reason.", "/reason");
    }
    VersionHead v = head(by, application, number).withdraw();
    return tools
        .keeper()
        .write(
            kept -> {
              kept.versions().update(v);
              kept.note(
                  new Event(
                      by.login(),
                      WITHDRAWN,
                      application,
                      null,
                      null,
                      number.text(),
                      null,
                      null,
                      reason),
                  tools.now());
              return v;
            });
  }

  /**
   * What changed from one version to another, component by component; those with the same content
   * are left out.
   */
  public List<ComponentResult> compare(Person by, String application, SemVer from, SemVer to) {
    Version b = get(by, application, to);
    Renaming names = tables(get(by, application, from), b);
    Version a = contents.renamed(get(by, application, from), names);
    List<ComponentResult> out = new ArrayList<>();
    for (ComponentKey key : keys(a, b)) {
      VersionEntry was = a.entry(key).orElse(null);
      VersionEntry is = b.entry(key).orElse(null);
      ComponentResult difference = difference(key, was, is, new ArrayList<>(), 0);
      PartDifference name = PartDifference.renamed(key, names);
      if (name != null) {
        out.add(withName(key, name, difference));
      } else if (difference != null) {
        out.add(difference);
      }
    }
    return out;
  }

  /** Tables that have another name in a version than in another. */
  private static Renaming tables(Version from, Version to) {
    return new Renaming(to.renamedSince(from).tables(), Map.of());
  }

  private static ComponentResult withName(
      ComponentKey key, PartDifference name, @Nullable ComponentResult beside) {
    List<PartDifference> parts = new ArrayList<>(List.of(name));
    if (beside != null) {
      parts.addAll(beside.parts());
    }
    Map<Difference, Long> counts = new HashMap<>();
    parts.forEach(p -> counts.merge(p.difference(), 1L, Long::sum));
    return new ComponentResult(key, Difference.CHANGED, Counts.of(counts), parts, "");
  }

  /**
   * What differs between two contents of a component; null when nothing does.
   *
   * @param rows takes the first rows that differ
   * @param most how many of them
   */
  @Nullable ComponentResult difference(
      ComponentKey key,
      @Nullable VersionEntry was,
      @Nullable VersionEntry is,
      List<RowDifference> rows,
      int most) {
    if (was != null && is != null && was.content().equals(is.content())) {
      return null;
    }
    if (key.kind() == Kind.TABLE) {
      return structure(key, was, is);
    }
    if (key.kind().whole()) {
      return whole(key, was, is);
    }
    Counts counts =
        rows(
            was,
            is,
            row -> {
              if (rows.size() < most) {
                rows.add(row);
              }
            });
    Difference d =
        was == null ? Difference.ADDED : is == null ? Difference.REMOVED : Difference.CHANGED;
    return new ComponentResult(key, d, counts, List.of(), "");
  }

  private ComponentResult whole(
      ComponentKey key, @Nullable VersionEntry was, @Nullable VersionEntry is) {
    Difference d =
        was == null ? Difference.ADDED : is == null ? Difference.REMOVED : Difference.CHANGED;
    PartDifference part =
        new PartDifference(
            PartDifference.Part.CONTENT,
            "",
            d,
            PieceDifference.between(key.kind(), piece(was), piece(is)),
            null);
    return new ComponentResult(key, d, Counts.of(Map.of(d, 1L)), List.of(part), "");
  }

  private PieceDifference.@Nullable Piece piece(@Nullable VersionEntry entry) {
    return entry == null
        ? null
        : PieceDifference.Piece.stored(
            entry.key().kind(),
            entry.content(),
            contents.size(entry.content()),
            () -> contents.open(entry.content()));
  }

  private static Set<ComponentKey> keys(Version a, Version b) {
    Set<ComponentKey> out =
        new TreeSet<>(Comparator.comparing(ComponentKey::kind).thenComparing(ComponentKey::name));
    a.entries().forEach(e -> out.add(e.key()));
    b.entries().forEach(e -> out.add(e.key()));
    return out;
  }

  private ComponentResult structure(
      ComponentKey key, @Nullable VersionEntry was, @Nullable VersionEntry is) {
    TableStructure before = was == null ? null : contents.structure(was.content());
    TableStructure after = is == null ? null : contents.structure(is.content());
    StructureComparison c =
        StructureComparison.of(
            before, before, after, StructureComparison.gone(before, after), Map.of());
    Map<Difference, Long> counts = new HashMap<>();
    c.parts().forEach(p -> counts.merge(p.difference(), 1L, Long::sum));
    return new ComponentResult(key, c.difference(), Counts.of(counts), c.parts(), "");
  }

  /** The rows of one component that differ between two versions, in key order. */
  public void rows(
      Person by,
      String application,
      SemVer from,
      SemVer to,
      ComponentKey key,
      Consumer<RowDifference> sink) {
    Version b = get(by, application, to);
    Version a = get(by, application, from);
    VersionEntry was = a.named(tables(a, b)).entry(key).orElse(null);
    VersionEntry is = b.entry(key).orElse(null);
    if (key.kind() != Kind.RECORDS || (was == null && is == null)) {
      throw Problem.notFound("rows of", key.toString());
    }
    rows(was, is, sink);
  }

  private Counts rows(
      @Nullable VersionEntry was, @Nullable VersionEntry is, Consumer<RowDifference> sink) {
    try (RowReader before = by(is, reader(was));
        RowReader after = reader(is)) {
      return RecordsComparison.merge(
          null, before, after, (then, row) -> true, RecordsComparison.Base.PRESENT, sink::accept);
    }
  }

  private @Nullable RowReader by(@Nullable VersionEntry is, @Nullable RowReader was) {
    return is == null || was == null ? was : contents.by(is.records().key(), was);
  }

  private @Nullable RowReader reader(@Nullable VersionEntry entry) {
    return entry == null ? null : contents.rows(entry.content(), entry.records().key().size());
  }
}
