package plenzo.engine.promoting;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import plenzo.core.comparison.Counts;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.inventory.Uncarried;
import plenzo.core.item.ItemSeen;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.run.Sheet;
import plenzo.core.table.TableStructure;
import plenzo.core.target.LastChange;
import plenzo.core.target.Question;
import plenzo.core.words.Words;
import plenzo.engine.comparing.Compared;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** Writes down what stands at a site after a run, from one look. */
final class SheetOf {
  private final SiteLook look;
  private final Map<Holder, String> where;
  private final Compared now;
  private final List<String> odd;

  /**
   * @param now what the site holds against what was planned
   * @param odd what is not as planned, a line each
   */
  SheetOf(SiteLook look, List<Targets.At> ats, Compared now, List<String> odd) {
    this.look = look;
    this.where = ats.stream().collect(Collectors.toMap(Targets.At::holder, Targets.At::shown));
    this.now = now;
    this.odd = odd;
  }

  Sheet sheet(Promotion p, Instant at) {
    List<ComponentResult> written =
        p.components().stream().filter(c -> !planned(c).isEmpty()).toList();
    List<Sheet.Line> lines = written.stream().limit(Sheet.MOST).map(this::line).toList();
    return new Sheet(
        at,
        lines,
        written.size() - lines.size(),
        odd,
        now.uncarried().stream().sorted().map(SheetOf::words).toList());
  }

  private static String words(Uncarried u) {
    return u.sort().word() + " " + u.name() + (u.on() == null ? "" : " on " + u.on());
  }

  /** What the plan did to a component; empty when it wrote nothing. */
  private static String planned(ComponentResult c) {
    if (c.key().kind().whole()) {
      return c.difference().writes() ? c.difference().code() : "";
    }
    Counts counts = c.counts();
    List<String> out = new ArrayList<>();
    part(out, counts, "added", Counts::added);
    part(out, counts, "changed", Counts::changed);
    part(out, counts, "removed", Counts::removed);
    return String.join(", ", out);
  }

  private static void part(
      List<String> to, Counts counts, String word, Function<Counts, Long> which) {
    long many = which.apply(counts);
    if (many > 0) {
      to.add(String.format(java.util.Locale.ROOT, "%,d %s", many, word));
    }
  }

  private Sheet.Line line(ComponentResult c) {
    ComponentKey key = c.key();
    ItemSeen seen = now.items().present().get(key);
    LastChange last = seen == null ? LastChange.UNKNOWN : look.lastChange(key);
    return new Sheet.Line(
        key.toString(),
        where.getOrDefault(key.kind().holder(), ""),
        planned(c),
        odd.stream().noneMatch(line -> isOf(line, key)),
        found(key, seen),
        seen == null ? null : seen.active(),
        seen == null ? null : seen.visible(),
        seen == null ? List.of() : seen.unbound(),
        last.by(),
        last.at());
  }

  private static boolean isOf(String line, ComponentKey key) {
    return line.equals(key.toString()) || line.startsWith(key + ":");
  }

  private String found(ComponentKey key, @org.jspecify.annotations.Nullable ItemSeen seen) {
    if (key.kind().whole()) {
      return seen == null ? "not there" : "there";
    }
    TableStructure structure = now.tables().get(TableName.of(key.name()));
    if (structure == null) {
      return "not there";
    }
    return key.kind() == Kind.TABLE
        ? Words.count(structure.columns().size(), "column")
        : Words.count(
            look.tables().answer(Question.of(Question.Type.ROWS, TableName.of(key.name()))).count(),
            "row");
  }
}
