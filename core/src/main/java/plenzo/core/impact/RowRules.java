package plenzo.core.impact;

import static plenzo.core.impact.StructureRules.rows;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.locking.Locked;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.Row;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.PartDifference;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Question.Tuples;
import plenzo.core.target.Reach;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/** Rules about rows, conflicts and what was changed by hand. */
final class RowRules {
  /**
   * Whether a value can be so large and cannot stand beside its row: a list, a document of the
   * application's or an extension's own type.
   */
  private static boolean isWide(Column c) {
    return !c.isComputed() && (c.type().endsWith("[]") || c.type().indexOf('.') >= 0);
  }

  /** From so long on it is said (guess: a pause that people notice). */
  private static final long SEARCHED_MILLIS = 1000;

  /** Values of the version that are remembered to find the same one twice (guess, about 50 MB). */
  private static final int MOST_SEEN = 300_000;

  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("conflict-undecided", Severity.BLOCKER, RowRules::undecided),
          Rule.of("drift-overwritten", Severity.RISK, RowRules::overwritten),
          Rule.of("hand-made-kept", Severity.RISK, RowRules::kept),
          Rule.of("row-needed", Severity.BLOCKER, RowRules::needed),
          Rule.of("row-missing", Severity.BLOCKER, RowRules::missing),
          Rule.of("value-taken", Severity.BLOCKER, RowRules::taken),
          Rule.of("value-too-large", Severity.BLOCKER, RowRules::tooLarge),
          Rule.of("foreign-code", Severity.RISK, RowRules::code),
          Rule.of("check-without-index", Severity.RISK, RowRules::searched));

  private RowRules() {}

  /** Answers to one question that was asked in chunks, taken together. */
  private static final class Tally {
    private static final int EXAMPLES = 5;

    private final List<String> examples = new ArrayList<>();
    private long count;
    private @Nullable String query;

    void add(Question.Answer answer) {
      count += answer.count();
      answer.examples().stream().limit(EXAMPLES - examples.size()).forEach(examples::add);
      query = answer.query();
    }

    List<String> examples() {
      return examples;
    }
  }

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
                      impact.decision(c.key(), "row/" + row.any().keyLine()) == wanted
                              && (wanted != Decision.TAKE_BOTH || row.both().isPresent())
                          ? 1
                          : 0);
    } else {
      for (PartDifference p : c.parts()) {
        count[0] +=
            p.difference() == Difference.CONFLICT
                    && impact.decision(c.key(), p.path()) == wanted
                    && (wanted != Decision.TAKE_BOTH || p.both() != null)
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
              - conflicts(impact, c, Decision.KEEP)
              - conflicts(impact, c, Decision.TAKE_BOTH);
      if (open > 0) {
        found.accept(
            Finding.of(
                "conflict-undecided",
                Severity.BLOCKER,
                c.key().toString(),
                parts(c.key(), open)
                    + " of "
                    + c.key()
                    + (open == 1 ? " was" : " were")
                    + " changed both here and in the version.",
                open,
                "Decide each: take the incoming, keep what is there, or both where each side moved something else",
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
                parts(c.key(), taken)
                    + " of "
                    + c.key()
                    + (taken == 1 ? " differs" : " differ")
                    + " here from what is recorded and "
                    + (taken == 1 ? "is" : "are")
                    + " overwritten.",
                taken,
                "See whether it should stay; then take it into the next version",
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
                    + (c.counts().kept() == 1
                        ? " is only here, or was changed only here, and stays as it is"
                        : " are only here, or were changed only here, and stay as they are")
                    + (fitted(impact, c.key()) ? ", where the table can hold that." : "."),
                c.counts().kept(),
                "Take them into a version, or remove them at the site",
                null));
      }
    }
  }

  private static boolean fitted(ImpactCase impact, ComponentKey key) {
    return key.kind() == Kind.RECORDS
        && impact.delta(TableName.of(key.name())).stream()
            .anyMatch(t -> !t.fitted().rows().isEmpty());
  }

  /** Rows of other tables that point at what goes, or at a value that is changed. */
  private static void needed(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.Staged s : impact.delta().staged()) {
      TablesDelta.TableDelta t = s.table();
      TablesDelta.RowsDelta rows = s.rows();
      if (t.result() == null || t.present() == null) {
        continue;
      }
      for (List<Reach.Edge> path : Reach.from(t.table(), impact.after())) {
        boolean stands = path.stream().allMatch(edge -> stands(impact, edge.hop()));
        if (stands) {
          pointing(impact, found, t, rows, path, /* removal= */ true);
        }
        if (stands && path.size() == 1) {
          pointing(impact, found, t, rows, path, /* removal= */ false);
        }
      }
    }
  }

  /** Nothing points by a column that only comes with the plan; what comes is checked by itself. */
  private static boolean stands(ImpactCase impact, Question.Hop hop) {
    TableStructure now = impact.tables().get(hop.table());
    return now != null && hop.columns().stream().allMatch(c -> now.column(c).isPresent());
  }

  private static void pointing(
      ImpactCase impact,
      Consumer<Finding> found,
      TablesDelta.TableDelta t,
      TablesDelta.RowsDelta rows,
      List<Reach.Edge> path,
      boolean removal) {
    Reach.Edge first = path.get(0);
    Reach.Edge last = path.get(path.size() - 1);
    TableName other = last.hop().table();
    List<String> referenced = first.hop().referenced();
    Tuples own = PlannedRows.touched(impact.delta(other).orElse(null)).orElse(Tuples.NONE);
    Tally tally = new Tally();
    PlannedRows.values(
        rows,
        referenced,
        /* withKey= */ false,
        change ->
            (change.incoming() == null) == removal && leaves(change, referenced)
                ? change.present()
                : null,
        chunk -> {
          Question.Answer a =
              impact
                  .target()
                  .answer(
                      Question.of(Question.Type.POINTING, t.table())
                          .along(path.stream().map(Reach.Edge::hop).toList())
                          .given(chunk)
                          .without(own));
          tally.add(a);
        });
    if (tally.count == 0) {
      return;
    }
    String names = path.stream().map(Reach.Edge::name).collect(Collectors.joining(", then "));
    String point =
        rows(tally.count)
            + " of "
            + other
            + (tally.count == 1 ? " points at " : " point at ")
            + (removal ? "rows that go" : "values that change");
    String place =
        "records/"
            + t.table()
            + " from "
            + other
            + " by "
            + last.name()
            + (removal ? "" : ", changed");
    boolean follows = removal ? last.onDelete() : last.onUpdate();
    found.accept(
        (follows
                ? Finding.of(
                    "row-needed",
                    Severity.RISK,
                    place,
                    point + ", and the database removes or changes them too (" + names + ").",
                    tally.count,
                    "Look at the rows; they are in the backup",
                    tally.query)
                : Finding.of(
                    "row-needed",
                    Severity.BLOCKER,
                    place,
                    point + " (" + names + ").",
                    tally.count,
                    removal
                        ? "Leave the removal out, or settle those rows first"
                        : "Keep the value, or settle those rows first",
                    tally.query))
            .with(tally.examples()));
  }

  /** True when a value that others may point at is no longer there afterwards. */
  private static boolean leaves(TablesDelta.RowChange change, List<String> columns) {
    Row was = change.present();
    Row is = change.incoming();
    if (was == null || is == null) {
      return was != null;
    }
    return columns.stream()
        .anyMatch(
            c -> {
              int a = was.header().position(c);
              int b = is.header().position(c);
              return a >= 0 && b >= 0 && !Objects.equals(was.get(a), is.get(b));
            });
  }

  /** Rows of the version that point at rows which neither the site nor the version has. */
  private static void missing(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.Staged s : impact.delta().staged()) {
      TablesDelta.TableDelta t = s.table();
      if (t.result() != null) {
        for (Constraint k : t.result().foreignKeys()) {
          missing(impact, found, t, s.rows(), k);
        }
      }
    }
  }

  private static void missing(
      ImpactCase impact,
      Consumer<Finding> found,
      TablesDelta.TableDelta t,
      TablesDelta.RowsDelta rows,
      Constraint k) {
    TableName other = Objects.requireNonNull(k.references());
    TablesDelta.TableDelta comes = impact.delta(other).orElse(null);
    TableStructure there = impact.tables().get(other);
    // of columns that come or become others, as they will be
    Optional<Question.Converted> becoming =
        there == null
            ? Optional.empty()
            : Unheld.pointedAt(impact.delta(), other, there, k.referencedColumns());
    Tuples gone = PlannedRows.removed(comes).orElse(Tuples.NONE);
    Set<List<String>> brought = new HashSet<>();
    // rows that come back from a backup stand in a set by themselves
    for (TablesDelta.RowsDelta set :
        comes == null ? List.<TablesDelta.RowsDelta>of() : comes.writes()) {
      PlannedRows.values(
          set,
          k.referencedColumns(),
          /* withKey= */ false,
          TablesDelta.RowChange::incoming,
          chunk -> chunk.values().forEach(v -> brought.add(Tuples.certain(v))));
    }
    Tally tally = new Tally();
    PlannedRows.values(
        rows,
        k.columns(),
        /* withKey= */ false,
        TablesDelta.RowChange::incoming,
        chunk -> {
          Tuples open =
              new Tuples(
                  k.referencedColumns(),
                  chunk.types(),
                  chunk.values().stream()
                      .filter(v -> !brought.contains(Tuples.certain(v)))
                      .distinct()
                      .toList());
          if (open.isEmpty()) {
            return;
          }
          if (becoming.isEmpty()) {
            tally.count += open.values().size();
            return;
          }
          Question.Answer a =
              impact
                  .target()
                  .answer(
                      Question.of(
                              Question.Type.UNKNOWN,
                              other,
                              k.referencedColumns().toArray(String[]::new))
                          .given(open)
                          .without(gone)
                          .converting(becoming.get()));
          tally.add(a);
        });
    if (tally.count > 0) {
      found.accept(
          Finding.of(
                  "row-missing",
                  Severity.BLOCKER,
                  "records/" + t.table() + " at " + other + " by " + k.name(),
                  "Rows of the version in "
                      + t.table()
                      + " point at "
                      + rows(tally.count)
                      + " of "
                      + other
                      + " that neither the site nor the version has ("
                      + k.name()
                      + ").",
                  tally.count,
                  "Take records/" + other + " into the version, or add the rows at the site",
                  tally.query)
              .with(tally.examples()));
    }
  }

  /**
   * Values that must be unique and that another row has, at the site or in the version; exchanged
   * ones too, which no single statement can write.
   */
  private static void taken(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.Staged s : impact.delta().staged()) {
      TablesDelta.TableDelta t = s.table();
      TablesDelta.RowsDelta rows = s.rows();
      if (t.result() == null) {
        continue;
      }
      List<String> key = rows.columns().names().subList(0, rows.columns().keyColumns());
      for (Constraint k : t.result().constraints()) {
        boolean unique = k.type() == Constraint.Type.UNIQUE || k.type() == Constraint.Type.PRIMARY;
        if (unique && !k.columns().containsAll(key)) {
          taken(impact, found, t, rows, k);
        }
      }
    }
  }

  private static void taken(
      ImpactCase impact,
      Consumer<Finding> found,
      TablesDelta.TableDelta t,
      TablesDelta.RowsDelta rows,
      Constraint k) {
    TableStructure there = t.present();
    boolean known =
        there != null && k.columns().stream().allMatch(c -> there.column(c).isPresent());
    Tuples gone = PlannedRows.removed(t).orElse(Tuples.NONE);
    Set<List<String>> seen = new HashSet<>();
    long[] twice = {0};
    Tally tally = new Tally();
    PlannedRows.values(
        rows,
        k.columns(),
        /* withKey= */ true,
        TablesDelta.RowChange::incoming,
        chunk -> {
          for (List<@Nullable String> v : chunk.values()) {
            boolean fresh =
                seen.size() > MOST_SEEN
                    || seen.add(Tuples.certain(v.subList(0, k.columns().size())));
            twice[0] += fresh ? 0 : 1;
          }
          if (known) {
            Question.Answer a =
                impact
                    .target()
                    .answer(
                        Question.of(
                                Question.Type.CLASHING,
                                t.table(),
                                k.columns().toArray(String[]::new))
                            .given(chunk)
                            .without(gone));
            tally.add(a);
          }
        });
    if (tally.count + twice[0] > 0) {
      found.accept(
          Finding.of(
                  "value-taken",
                  Severity.BLOCKER,
                  "records/" + t.table() + " by " + k.name(),
                  (tally.count == 0
                          ? ""
                          : rows(tally.count)
                              + " of "
                              + t.table()
                              + " "
                              + (tally.count == 1 ? "has" : "have")
                              + " a value of "
                              + String.join(", ", k.columns())
                              + " that the version gives to another row. ")
                      + (twice[0] == 0
                          ? ""
                          : rows(twice[0])
                              + " of the version repeat a value of "
                              + String.join(", ", k.columns())
                              + ". ")
                      + "It must be unique ("
                      + k.name()
                      + ").",
                  tally.count + twice[0],
                  "Correct the rows, or bring the exchange in two versions",
                  tally.query)
              .with(tally.examples()));
    }
  }

  /** Values that cannot be carried as one field, in every table that the backup copies. */
  private static void tooLarge(ImpactCase impact, Consumer<Finding> found) {
    Set<TableName> copied = new TreeSet<>(Comparator.comparing(TableName::toString));
    impact.delta().tables().stream()
        .filter(t -> t.present() != null)
        .forEach(t -> copied.add(t.table()));
    impact.delta().reached().forEach(r -> copied.add(r.table()));
    for (TableName table : copied) {
      List<Column> wide =
          Objects.requireNonNull(impact.tables().get(table)).columns().stream()
              .filter(RowRules::isWide)
              .toList();
      if (wide.isEmpty()) {
        continue;
      }
      Question.Answer a =
          impact
              .target()
              .answer(
                  Question.oversize(
                      table,
                      wide.stream().map(Column::name).toList(),
                      wide.stream().map(Column::type).toList()));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                "value-too-large",
                Severity.BLOCKER,
                "table/" + table,
                rows(a.count())
                    + " of "
                    + table
                    + (a.count() == 1 ? " holds" : " hold")
                    + " a value over 64 MB of a type that is backed up with its row: at "
                    + String.join("; ", a.examples())
                    + ".",
                a.count(),
                "Move such values out of the table",
                a.query()));
      }
    }
  }

  /**
   * Rows that go where the engine reads whole tables for each of them, to see whether others point
   * at it.
   */
  private static void searched(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      long going = t.writes().stream().mapToLong(TablesDelta.RowsDelta::removed).sum();
      if (t.present() == null || t.result() == null || going == 0) {
        continue;
      }
      Question.Answer a = impact.target().answer(Question.of(Question.Type.UNINDEXED, t.table()));
      long millis = Locked.searching(going, a.count());
      if (millis < SEARCHED_MILLIS) {
        continue;
      }
      found.accept(
          Finding.of(
                  "check-without-index",
                  Severity.RISK,
                  "records/" + t.table(),
                  "For "
                      + (going == 1 ? "the row" : "each of the " + rows(going))
                      + " of "
                      + t.table()
                      + " that "
                      + (going == 1 ? "goes" : "go")
                      + ", the database reads "
                      + Math.max(1, a.count() >> 20)
                      + " MB of what points at the table, as no index begins with its columns: "
                      + Words.about(millis)
                      + " in which nobody writes. The run builds an index for that before the switch, beside running work, and takes it away afterwards; where it may not, it takes that long.",
                  going,
                  "Give the table an index on those columns in a version of its own",
                  a.query())
              .with(a.examples()));
    }
  }

  private static void code(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      if (t.present() == null || t.writes().isEmpty()) {
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
