package plenzo.core.impact;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.records.Row;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.StructureChange;
import plenzo.core.table.StructureChange.Act;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Question.Tuples;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/** Rules about changes of structure; each count is a real query at the target. */
final class StructureRules {
  /** Above this many bytes a rewrite is felt (guess: 100 MB take about a second). */
  private static final long LONG_BYTES = 100L << 20;

  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("column-dropped", Severity.RISK, StructureRules::columnDropped),
          Rule.of("table-dropped", Severity.RISK, StructureRules::tableDropped),
          Rule.of("value-does-not-fit", Severity.BLOCKER, StructureRules::doesNotFit),
          Rule.of("null-in-not-null", Severity.BLOCKER, StructureRules::nulls),
          Rule.of("duplicate-in-unique", Severity.BLOCKER, StructureRules::duplicates),
          Rule.of("duplicate-in-unique", Severity.BLOCKER, StructureRules::uniqueIndexes),
          Rule.of("check-violated", Severity.BLOCKER, StructureRules::checks),
          Rule.of("orphan-in-foreign-key", Severity.BLOCKER, StructureRules::orphans),
          Rule.of("reference-missing", Severity.BLOCKER, StructureRules::missing),
          Rule.of("dependent-breaks", Severity.BLOCKER, StructureRules::dependents),
          Rule.of("dependent-breaks", Severity.BLOCKER, StructureRules::pointedAt),
          Rule.of("long-lock", Severity.RISK, StructureRules::longLock));

  private StructureRules() {}

  private static List<StructureChange> changes(ImpactCase impact, Act act) {
    List<StructureChange> out = new ArrayList<>();
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      StructureChange.between(t.table(), t.present(), t.result()).stream()
          .filter(c -> c.act() == act)
          .forEach(out::add);
    }
    return out;
  }

  static String rows(long count) {
    return Words.count(count, "row");
  }

  private static String place(StructureChange c, String part) {
    return "table/" + c.table() + "#" + part + "/" + c.name();
  }

  private static void columnDropped(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.DROP_COLUMN)) {
      Question.Answer a =
          impact.target().answer(Question.of(Question.Type.FILLED, c.table(), c.name()));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                "column-dropped",
                Severity.RISK,
                place(c, "column"),
                "The column "
                    + c.name()
                    + " goes, and with it the values of "
                    + rows(a.count())
                    + ".",
                a.count(),
                "Save the values first, or leave the removal out of the version",
                a.query()));
      }
    }
  }

  private static void tableDropped(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.DROP_TABLE)) {
      Question.Answer a = impact.target().answer(Question.of(Question.Type.ROWS, c.table()));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                "table-dropped",
                Severity.RISK,
                "table/" + c.table(),
                "The table " + c.table() + " goes with " + rows(a.count()) + ".",
                a.count(),
                "Save the rows first, or leave the removal out of the version",
                a.query()));
      }
    }
  }

  private static void doesNotFit(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.CHANGE_COLUMN)) {
      Column before = Objects.requireNonNull(c.before());
      Column after = Objects.requireNonNull(c.after());
      if (before.type().equals(after.type())) {
        continue;
      }
      Question.Answer a =
          impact
              .target()
              .answer(Question.notFitting(c.table(), c.name(), after.type(), before.type()));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                    "value-does-not-fit",
                    Severity.BLOCKER,
                    place(c, "column"),
                    rows(a.count())
                        + " hold values that do not fit "
                        + after.type()
                        + " (now "
                        + before.type()
                        + "), or would be cut to fit.",
                    a.count(),
                    "Correct the values at the site, or choose a wider type",
                    a.query())
                .with(a.examples()));
      }
    }
  }

  private static void nulls(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.SET_NOT_NULL)) {
      TablesDelta.TableDelta t = impact.delta(c.table()).orElseThrow();
      if (t.present() == null) {
        continue;
      }
      Tuples filled = filledByRun(t, c.name());
      Question.Answer a;
      if (c.before() != null) {
        a =
            impact
                .target()
                .answer(Question.of(Question.Type.NULLS, c.table(), c.name()).without(filled));
      } else if (Objects.requireNonNull(c.after()).defaultExpression() != null
          || c.after().identity() != null) {
        continue;
      } else {
        a = impact.target().answer(Question.of(Question.Type.ROWS, c.table()).without(filled));
      }
      long left = a.count() + nullsOfRun(t, c.name());
      if (left > 0) {
        found.accept(
            Finding.of(
                "null-in-not-null",
                Severity.BLOCKER,
                place(c, "column"),
                rows(left) + " would have no value in " + c.name() + ", which must have one.",
                left,
                "Give the column a default, or fill the values at the site first",
                a.query()));
      }
    }
  }

  /** Keys of the present rows that the run removes, or whose column it writes. */
  private static Tuples filledByRun(TablesDelta.TableDelta t, String column) {
    TablesDelta.RowsDelta rows = t.rows();
    if (rows == null) {
      return Tuples.NONE;
    }
    return (rows.columns().position(column) < 0 ? PlannedRows.removed(t) : PlannedRows.touched(t))
        .orElse(Tuples.NONE);
  }

  /** Rows that the run writes with a null in the column. */
  private static long nullsOfRun(TablesDelta.TableDelta t, String column) {
    TablesDelta.RowsDelta rows = t.rows();
    if (rows == null || rows.columns().position(column) < 0) {
      return 0;
    }
    long[] nulls = {0};
    PlannedRows.each(
        rows,
        change -> {
          Row row = change.incoming();
          int at = row == null ? -1 : row.header().position(column);
          nulls[0] += row != null && (at < 0 || row.get(at) == null) ? 1 : 0;
        });
    return nulls[0];
  }

  /** Only rows that stay as they are; what the version brings is checked by "value-taken". */
  private static void duplicates(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.ADD_CONSTRAINT)) {
      Constraint k = Objects.requireNonNull(c.constraint());
      if (k.type() != Constraint.Type.UNIQUE && k.type() != Constraint.Type.PRIMARY) {
        continue;
      }
      var present = impact.tables().get(c.table());
      if (present != null && k.columns().stream().allMatch(n -> present.column(n).isPresent())) {
        duplicates(impact, found, c, "constraint", k.columns());
      }
    }
  }

  private static void duplicates(
      ImpactCase impact,
      Consumer<Finding> found,
      StructureChange c,
      String part,
      List<String> columns) {
    Optional<Tuples> touched = PlannedRows.touched(impact.delta(c.table()).orElse(null));
    Question.Answer a =
        impact
            .target()
            .answer(
                Question.of(Question.Type.DUPLICATES, c.table(), columns.toArray(String[]::new))
                    .without(touched.orElse(Tuples.NONE)));
    if (a.count() > 0) {
      found.accept(
          Finding.of(
                  "duplicate-in-unique",
                  touched.isPresent() ? Severity.BLOCKER : Severity.RISK,
                  place(c, part),
                  a.count()
                      + (a.count() == 1 ? " value stands" : " values stand")
                      + " in more than one row, and "
                      + String.join(", ", columns)
                      + " must be unique"
                      + (touched.isPresent()
                          ? "."
                          : "; counted before the many rows that the version itself writes."),
                  a.count(),
                  "Correct the rows at the site first",
                  a.query())
              .with(a.examples()));
    }
  }

  /** A unique index that is no constraint is met by the rows that stay, or the run is refused. */
  private static void uniqueIndexes(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.ADD_INDEX)) {
      Index index = Objects.requireNonNull(c.index());
      TableStructure present = impact.tables().get(c.table());
      if (!index.unique() || present == null) {
        continue;
      }
      Matcher m = PLAIN_INDEX.matcher(index.definition());
      if (!m.find()) {
        found.accept(
            Finding.said(
                "duplicate-in-unique",
                Severity.RISK,
                place(c, "index"),
                "Whether rows of "
                    + c.table()
                    + " are unique by "
                    + c.name()
                    + " could not be counted: "
                    + index.definition()
                    + ".",
                "Look for equal rows at the site; the run is refused unchanged when there are"));
        continue;
      }
      List<String> columns =
          Arrays.stream(m.group(1).split(","))
              .map(n -> n.strip().replaceAll("^\"|\"$", "").replace("\"\"", "\""))
              .toList();
      if (columns.stream().allMatch(n -> present.column(n).isPresent())) {
        duplicates(impact, found, c, "index", columns);
      }
    }
  }

  /** An index over whole columns, without a condition. */
  private static final Pattern PLAIN_INDEX =
      Pattern.compile("USING btree \\(((?:\\s*(?:[a-z_][a-z0-9_]*|\"[^\"]+\")\\s*,?)+)\\)$");

  /** Only rows that stay as they are: what the version brings, it was sealed with. */
  private static void checks(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.ADD_CONSTRAINT)) {
      Constraint k = Objects.requireNonNull(c.constraint());
      TableStructure present = impact.tables().get(c.table());
      if (k.type() != Constraint.Type.CHECK
          || present == null
          || k.definition().endsWith("NOT VALID")
          || k.columns().stream().anyMatch(n -> present.column(n).isEmpty())) {
        continue;
      }
      Optional<Tuples> touched = PlannedRows.touched(impact.delta(c.table()).orElse(null));
      String condition =
          k.definition().replaceFirst("^CHECK ", "").replaceFirst(" NO INHERIT$", "");
      Question.Answer a =
          impact
              .target()
              .answer(
                  Question.violating(c.table(), condition).without(touched.orElse(Tuples.NONE)));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                "check-violated",
                touched.isPresent() ? Severity.BLOCKER : Severity.RISK,
                place(c, "constraint"),
                rows(a.count())
                    + (a.count() == 1 ? " does" : " do")
                    + " not meet "
                    + k.definition()
                    + (touched.isPresent()
                        ? "."
                        : "; counted before the many rows that the version itself writes."),
                a.count(),
                "Correct the rows at the site first",
                a.query()));
      }
    }
  }

  /** Only rows that stay as they are; what the version brings is checked by "row-missing". */
  private static void orphans(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.ADD_FOREIGN_KEY)) {
      Constraint k = Objects.requireNonNull(c.constraint());
      TableName other = Objects.requireNonNull(k.references());
      var present = impact.tables().get(c.table());
      if (present == null
          || !impact.tables().containsKey(other)
          || k.columns().stream().anyMatch(n -> present.column(n).isEmpty())) {
        continue;
      }
      Optional<Tuples> touched = PlannedRows.touched(impact.delta(c.table()).orElse(null));
      Question.Answer a =
          impact
              .target()
              .answer(
                  Question.of(Question.Type.ORPHANS, c.table(), k.columns().toArray(String[]::new))
                      .along(List.of(new Question.Hop(other, k.columns(), k.referencedColumns())))
                      .given(coming(impact, other, k.referencedColumns()))
                      .without(touched.orElse(Tuples.NONE)));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                    "orphan-in-foreign-key",
                    touched.isPresent() ? Severity.BLOCKER : Severity.RISK,
                    place(c, "constraint"),
                    rows(a.count()) + " point at nothing in " + other + ".",
                    a.count(),
                    "Add what they point at, or correct them, at the site first",
                    a.query())
                .with(a.examples()));
      }
    }
  }

  /** Values that rows of the version bring to a table, as far as they can be named. */
  private static Tuples coming(ImpactCase impact, TableName table, List<String> columns) {
    TablesDelta.RowsDelta rows = impact.delta(table).map(TablesDelta.TableDelta::rows).orElse(null);
    if (rows == null || rows.total() > PlannedRows.MOST) {
      return Tuples.NONE;
    }
    Tuples[] out = {Tuples.NONE};
    PlannedRows.values(
        rows,
        columns,
        /* withKey= */ false,
        TablesDelta.RowChange::incoming,
        chunk -> out[0] = chunk);
    return out[0];
  }

  private static void missing(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.ADD_FOREIGN_KEY)) {
      TableName other = Objects.requireNonNull(Objects.requireNonNull(c.constraint()).references());
      boolean comes = impact.delta(other).map(t -> t.result() != null).orElse(false);
      boolean goes = impact.delta(other).map(t -> t.result() == null).orElse(false);
      if (!comes && (goes || !impact.tables().containsKey(other))) {
        found.accept(
            Finding.said(
                "reference-missing",
                Severity.BLOCKER,
                place(c, "constraint"),
                "table/"
                    + c.table()
                    + " needs table/"
                    + other
                    + ", which is neither in the version nor at the site.",
                "Take table/" + other + " into the version"));
      }
    }
  }

  private static void dependents(ImpactCase impact, Consumer<Finding> found) {
    List<StructureChange> touching = new ArrayList<>(changes(impact, Act.DROP_COLUMN));
    changes(impact, Act.CHANGE_COLUMN).stream()
        .filter(
            c ->
                !Objects.requireNonNull(c.before())
                    .type()
                    .equals(Objects.requireNonNull(c.after()).type()))
        .forEach(touching::add);
    for (StructureChange c : touching) {
      dependents(impact, found, c, Question.of(Question.Type.DEPENDENTS, c.table(), c.name()));
    }
    for (StructureChange c : changes(impact, Act.DROP_TABLE)) {
      dependents(impact, found, c, Question.of(Question.Type.DEPENDENTS, c.table()));
    }
  }

  /** Foreign keys of tables that stay, at a table, a key or a column that goes. */
  private static void pointedAt(ImpactCase impact, Consumer<Finding> found) {
    List<StructureChange> going = new ArrayList<>(changes(impact, Act.DROP_TABLE));
    going.addAll(changes(impact, Act.DROP_COLUMN));
    changes(impact, Act.DROP_CONSTRAINT).stream()
        .filter(c -> Objects.requireNonNull(c.constraint()).type() != Constraint.Type.CHECK)
        .forEach(going::add);
    for (StructureChange c : going) {
      for (Map.Entry<TableName, TableStructure> other : impact.tables().entrySet()) {
        TablesDelta.TableDelta changed = impact.delta(other.getKey()).orElse(null);
        TableStructure stays = changed == null ? other.getValue() : changed.result();
        if (stays == null || other.getKey().equals(c.table()) && c.act() == Act.DROP_TABLE) {
          continue;
        }
        for (Constraint k : stays.foreignKeys()) {
          boolean uses =
              switch (c.act()) {
                case DROP_TABLE -> true;
                case DROP_COLUMN -> k.referencedColumns().contains(c.name());
                default ->
                    Objects.requireNonNull(c.constraint()).columns().equals(k.referencedColumns());
              };
          if (c.table().equals(k.references()) && uses) {
            found.accept(
                Finding.said(
                    "dependent-breaks",
                    Severity.BLOCKER,
                    "table/" + other.getKey() + "#constraint/" + k.name(),
                    "The foreign key "
                        + k.name()
                        + " of "
                        + other.getKey()
                        + " points at "
                        + c.table()
                        + (c.name().isEmpty() ? "" : " " + c.name())
                        + ", which goes.",
                    "Remove the foreign key in the version too, or leave the removal out"));
          }
        }
      }
    }
  }

  private static void dependents(
      ImpactCase impact, Consumer<Finding> found, StructureChange c, Question question) {
    Question.Answer a = impact.target().answer(question);
    if (a.count() > 0) {
      String what = c.name().isEmpty() ? "the table" : "the column " + c.name();
      found.accept(
          Finding.of(
              "dependent-breaks",
              Severity.BLOCKER,
              c.name().isEmpty() ? "table/" + c.table() : place(c, "column"),
              String.join(", ", a.examples()) + " would break: it uses " + what + ".",
              a.count(),
              "Change or drop it at the site first, and put it back afterwards",
              a.query()));
    }
  }

  private static void longLock(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      if (!t.structureChanges() || t.present() == null) {
        continue;
      }
      Question.Answer a = impact.target().answer(Question.of(Question.Type.BYTES, t.table()));
      if (a.count() > LONG_BYTES) {
        found.accept(
            Finding.of(
                "long-lock",
                Severity.RISK,
                "table/" + t.table(),
                t.table()
                    + " has "
                    + (a.count() >> 20)
                    + " MB; while its structure changes, nobody can read or write it.",
                0,
                "Run it when few people work",
                a.query()));
      }
    }
  }
}
