package plenzo.core.impact;

import static plenzo.core.impact.StructureRules.rows;
import static plenzo.core.impact.StructureRules.rule;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Consumer;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.Header;
import plenzo.core.records.Row;
import plenzo.core.table.Constraint;
import plenzo.core.table.PartDifference;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Delta;
import plenzo.core.target.Question;

/** Rules about rows, conflicts and what was changed by hand. */
final class RowRules {
  /**
   * Keys asked about in one query; more are named as not counted (guess that keeps a query below
   * 100 KB).
   */
  private static final int MOST_KEYS = 1000;

  static final List<Rule> ALL =
      List.of(
          rule("conflict-undecided", Severity.BLOCKER, RowRules::undecided),
          rule("drift-overwritten", Severity.RISK, RowRules::overwritten),
          rule("hand-made-kept", Severity.RISK, RowRules::kept),
          rule("removed-row-needed", Severity.BLOCKER, RowRules::needed),
          rule("foreign-code", Severity.RISK, RowRules::code));

  private RowRules() {}

  private static String parts(ComponentKey key, long count) {
    return key.kind() == Kind.RECORDS ? rows(count) : count + (count == 1 ? " part" : " parts");
  }

  /** Conflicts by what was decided: undecided, overwritten, kept. */
  private static long conflicts(ImpactCase impact, ComponentResult c, Decision wanted) {
    long[] count = {0};
    if (c.key().kind() == Kind.RECORDS) {
      impact
          .rows()
          .each(
              c.key(),
              Difference.CONFLICT,
              Integer.MAX_VALUE,
              row ->
                  count[0] +=
                      impact.decision(c.key(), "row/" + row.any().keyLine()) == wanted ? 1 : 0);
    } else {
      for (PartDifference p : c.parts()) {
        count[0] +=
            p.difference() == Difference.CONFLICT && impact.decision(c.key(), p.path()) == wanted
                ? 1
                : 0;
      }
    }
    return count[0];
  }

  @SuppressWarnings("NullAway")
  private static void undecided(ImpactCase impact, Consumer<Finding> found) {
    for (ComponentResult c : impact.components()) {
      if (c.counts().conflict() == 0) {
        continue;
      }
      long open =
          c.counts().conflict()
              - conflicts(impact, c, Decision.TAKE_INCOMING)
              - conflicts(impact, c, Decision.KEEP);
      if (open > 0) {
        found.accept(
            Finding.of(
                "conflict-undecided",
                Severity.BLOCKER,
                c.key().toString(),
                parts(c.key(), open)
                    + " of "
                    + c.key()
                    + " were changed both here and in the version.",
                open,
                "Decide each: take the incoming, or keep what is there",
                null));
      }
    }
  }

  private static void overwritten(ImpactCase impact, Consumer<Finding> found) {
    for (ComponentResult c : impact.components()) {
      long taken = c.counts().conflict() == 0 ? 0 : conflicts(impact, c, Decision.TAKE_INCOMING);
      if (taken > 0) {
        found.accept(
            Finding.of(
                "drift-overwritten",
                Severity.RISK,
                c.key().toString(),
                "What somebody changed here by hand in "
                    + parts(c.key(), taken)
                    + " of "
                    + c.key()
                    + " is overwritten.",
                taken,
                "Ask who changed it; take it into the next version if it should stay",
                null));
      }
    }
  }

  private static void kept(ImpactCase impact, Consumer<Finding> found) {
    for (ComponentResult c : impact.components()) {
      if (c.counts().kept() > 0) {
        found.accept(
            Finding.of(
                "hand-made-kept",
                Severity.NOTE,
                c.key().toString(),
                parts(c.key(), c.counts().kept())
                    + " of "
                    + c.key()
                    + " are only here, or were changed only here, and stay as they are.",
                c.counts().kept(),
                "Take them into a version, or remove them at the site",
                null));
      }
    }
  }

  /** Foreign keys from any table at {@code table}, of tables that the run does not drop. */
  private static void needed(ImpactCase impact, Consumer<Finding> found) {
    for (ComponentResult c : impact.components()) {
      if (c.key().kind() != Kind.RECORDS || c.counts().removed() == 0) {
        continue;
      }
      TableName table = TableName.of(c.key().name());
      List<Row> removed = new ArrayList<>();
      impact
          .rows()
          .each(
              c.key(),
              Difference.REMOVED,
              MOST_KEYS,
              row -> removed.add(Objects.requireNonNull(row.present())));
      for (Map.Entry<TableName, TableStructure> other : impact.tables().entrySet()) {
        for (Constraint k : other.getValue().foreignKeys()) {
          if (table.equals(k.references())) {
            pointing(impact, found, c, table, removed, other.getKey(), k);
          }
        }
      }
    }
  }

  private static void pointing(
      ImpactCase impact,
      Consumer<Finding> found,
      ComponentResult c,
      TableName table,
      List<Row> removed,
      TableName other,
      Constraint k) {
    List<List<String>> keys = new ArrayList<>();
    for (Row row : removed) {
      Header header = row.header();
      List<String> values = new ArrayList<>();
      for (String column : k.referencedColumns()) {
        String value = header.position(column) < 0 ? null : row.get(header.position(column));
        if (value != null) {
          values.add(value);
        }
      }
      if (values.size() == k.referencedColumns().size()) {
        keys.add(values);
      }
    }
    if (keys.isEmpty()) {
      return;
    }
    Question.Answer a =
        impact
            .target()
            .answer(Question.pointing(table, k.referencedColumns(), other, k.columns(), keys));
    if (a.count() == 0) {
      return;
    }
    boolean cascades =
        k.definition().contains("ON DELETE CASCADE") || k.definition().contains("ON DELETE SET");
    found.accept(
        cascades
            ? Finding.of(
                "removed-row-needed",
                Severity.RISK,
                c.key() + " from " + other,
                rows(a.count())
                    + " of "
                    + other
                    + " point at rows that go and are changed with them ("
                    + k.name()
                    + ").",
                a.count(),
                "Look at the rows; save them first",
                a.query())
            : Finding.of(
                "removed-row-needed",
                Severity.BLOCKER,
                c.key() + " from " + other,
                rows(a.count())
                    + " of "
                    + other
                    + " point at rows that would go ("
                    + k.name()
                    + ").",
                a.count(),
                "Leave the removal out, or settle those rows first",
                a.query()));
  }

  private static void code(ImpactCase impact, Consumer<Finding> found) {
    for (Delta.TableDelta t : impact.delta().tables()) {
      if (t.present() == null || t.rows() == null) {
        continue;
      }
      Question.Answer a = impact.target().answer(Question.of(Question.Type.CODE, t.table()));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                "foreign-code",
                Severity.RISK,
                "table/" + t.table(),
                "Writing "
                    + t.table()
                    + " runs "
                    + String.join(", ", a.examples())
                    + " with Plenzo's rights; what that does cannot be undone.",
                a.count(),
                "Switch it off for the run",
                a.query()));
      }
    }
  }
}
