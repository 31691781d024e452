package plenzo.core.impact;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.Row;
import plenzo.core.table.ConstantDefault;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.IndexKeys;
import plenzo.core.table.Resting;
import plenzo.core.table.Setting;
import plenzo.core.table.StructureChange;
import plenzo.core.table.StructureChange.Act;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
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
          Rule.of("partition-changes", Severity.BLOCKER, StructureRules::partitionChanges),
          Rule.of("partition-has-rows", Severity.BLOCKER, StructureRules::partitionHasRows),
          Rule.of("default-partition", Severity.RISK, StructureRules::defaultPartition),
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
    List<StructureChange> untyped = new ArrayList<>();
    for (StructureChange c : changes(impact, Act.DROP_COLUMN)) {
      Question.Answer a =
          impact.target().answer(Question.of(Question.Type.FILLED, c.table(), c.name()));
      if (a.count() == 0) {
        continue;
      }
      String given = ConstantDefault.of(c.before()).text();
      if (given != null
          && impact.target().answer(Question.filled(c.table(), c.name(), given)).count() == 0) {
        untyped.add(c);
        continue;
      }
      found.accept(
          Finding.of(
              "column-dropped",
              Severity.RISK,
              place(c, "column"),
              "The column "
                  + c.name()
                  + " of "
                  + c.table()
                  + " goes, and with it the values of "
                  + rows(a.count())
                  + impact.delta(c.table()).orElseThrow().alsoReadBy(c.name(), "them")
                  + ".",
              a.count(),
              "Save the values first, or leave the removal out of the version",
              a.query()));
    }
    if (!untyped.isEmpty()) {
      found.accept(untyped(untyped));
    }
  }

  /** Columns that are named in a sentence (guess). */
  private static final int NAMED = 5;

  /** Columns that go, in which nobody's value stands. */
  private static Finding untyped(List<StructureChange> columns) {
    List<String> names =
        columns.stream()
            .map(
                c ->
                    c.table() + "." + c.name() + " (" + ConstantDefault.of(c.before()).text() + ")")
            .toList();
    return Finding.said(
        "column-dropped",
        Severity.NOTE,
        place(columns.get(0), "column"),
        Words.count(columns.size(), "column")
            + (columns.size() == 1 ? " goes that holds" : " go that hold")
            + " nothing but "
            + (columns.size() == 1 ? "its default: " : "their defaults: ")
            + Words.and(names, NAMED)
            + ".",
        "Nothing; what anybody wrote there would be a risk");
  }

  /** By what rows are told apart, and where a partition ends, the server changes of no table. */
  private static void partitionChanges(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      TableStructure was = t.present();
      TableStructure is = t.result();
      if (was == null || is == null) {
        continue;
      }
      Set<String> names = new TreeSet<>();
      was.settings().stream().filter(Setting::partitions).forEach(s -> names.add(s.name()));
      is.settings().stream().filter(Setting::partitions).forEach(s -> names.add(s.name()));
      for (String name : names) {
        String before = was.setting(name).map(Setting::value).orElse(null);
        String after = is.setting(name).map(Setting::value).orElse(null);
        boolean one = name.equals(Setting.PARTITIONED);
        if (!Objects.equals(before, after) && (one || before != null && after != null)) {
          found.accept(
              Finding.said(
                  "partition-changes",
                  Severity.BLOCKER,
                  "table/" + t.table() + "#setting/" + name,
                  (one
                          ? t.table()
                              + " is "
                              + partitioned(before)
                              + " and is to be "
                              + partitioned(after)
                          : name.substring(Setting.PARTITION.length())
                              + " is "
                              + before
                              + " and is to be "
                              + after)
                      + ": the server changes that of no table.",
                  "Make the table anew under another name, with a partition for each of its rows"));
        }
      }
    }
  }

  private static String partitioned(@Nullable String by) {
    return by == null ? "without partitions" : "partitioned by " + by;
  }

  /** A partition goes with its rows, and neither way back knows which they were. */
  private static void partitionHasRows(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.DROP_PARTITION)) {
      Question.Answer a =
          impact.target().answer(Question.of(Question.Type.ROWS, TableName.of(c.name())));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                "partition-has-rows",
                Severity.BLOCKER,
                place(c, "setting/partition"),
                "The partition " + c.name() + " would go with " + rows(a.count()) + ".",
                a.count(),
                "Take the rows away at the site first, or leave the removal out of the version",
                a.query()));
      }
    }
  }

  /** Rows of the partition for everything else may belong to one that comes: the server refuses. */
  private static void defaultPartition(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.ADD_PARTITION)) {
      TableStructure was = Objects.requireNonNull(impact.delta(c.table()).orElseThrow().present());
      for (Setting s : was.partitions()) {
        boolean beside =
            s.value().endsWith(" DEFAULT")
                && Objects.requireNonNull(c.comment())
                    .startsWith(s.value().substring(0, s.value().length() - "DEFAULT".length()));
        String name = s.name().substring(Setting.PARTITION.length());
        Question.Answer a =
            beside
                ? impact.target().answer(Question.of(Question.Type.ROWS, TableName.of(name)))
                : null;
        if (a != null && a.count() > 0) {
          found.accept(
              Finding.of(
                  "default-partition",
                  Severity.RISK,
                  place(c, "setting/partition"),
                  "The default partition "
                      + name
                      + " holds "
                      + rows(a.count())
                      + ": one that belongs into "
                      + c.name()
                      + " stops the switch, and nothing is changed then.",
                  a.count(),
                  "Look whether " + c.comment() + " is true of one of them, or rehearse the plan",
                  a.query()));
        }
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

  /** Questions of one sort whose rows the plan does not settle itself, with their answers. */
  private static void unheld(ImpactCase impact, Unheld.Why why, Answered use) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      for (Unheld u : Unheld.of(impact.delta(), t, impact.tables(), Set.of(why))) {
        if (!t.fitted().settled().contains(u.place())) {
          use.accept(u, impact.target().answer(u.question()));
        }
      }
    }
  }

  /** Takes a question with its answer. */
  private interface Answered {
    void accept(Unheld unheld, Question.Answer answer);
  }

  private static String place(Unheld u) {
    return "table/" + u.change().table() + "#" + u.place();
  }

  private static void doesNotFit(ImpactCase impact, Consumer<Finding> found) {
    unheld(
        impact,
        Unheld.Why.NO_FIT,
        (u, a) -> {
          if (a.count() > 0) {
            found.accept(
                Finding.of(
                        "value-does-not-fit",
                        Severity.BLOCKER,
                        place(u),
                        rows(a.count())
                            + " of "
                            + u.change().table()
                            + (a.count() == 1 ? " holds a value" : " hold values")
                            + " in "
                            + u.change().name()
                            + " that "
                            + (a.count() == 1 ? "does" : "do")
                            + " not fit "
                            + Objects.requireNonNull(u.change().after()).type()
                            + " (now "
                            + Objects.requireNonNull(u.change().before()).type()
                            + "), or would be cut to fit.",
                        a.count(),
                        "Correct the values at the site, choose a wider type, or state in the next version"
                            + " what they become (plenzo draft convert)",
                        a.query())
                    .with(a.examples()));
          }
        });
  }

  private static void nulls(ImpactCase impact, Consumer<Finding> found) {
    Map<String, Question.Answer> stay = new HashMap<>();
    unheld(impact, Unheld.Why.NO_VALUE, (u, a) -> stay.put(place(u), a));
    for (StructureChange c : changes(impact, Act.SET_NOT_NULL)) {
      TablesDelta.TableDelta t = impact.delta(c.table()).orElseThrow();
      Question.Answer a = stay.get(place(c, "column"));
      if (t.present() == null) {
        continue;
      }
      long left = (a == null ? 0 : a.count()) + nullsOfRun(t, c.name());
      if (left > 0) {
        found.accept(
            Finding.of(
                "null-in-not-null",
                Severity.BLOCKER,
                place(c, "column"),
                rows(left)
                    + " of "
                    + c.table()
                    + " would have no value in "
                    + c.name()
                    + ", which must have one.",
                left,
                "Give the column a default, or fill the values at the site first",
                a == null ? null : a.query()));
      }
    }
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

  /**
   * What helps where rows are in the way: of what the version gives them, it is the version that
   * may have to give something else.
   */
  static String advice(Question.Converted columns) {
    return columns.isEmpty()
        ? "Correct the rows at the site first, then compare again"
        : "What they will hold in "
            + Words.and(columns.made().stream().map(Question.Made::column).toList())
            + " comes with the version: bring other values there (as rows, by the default, or by"
            + " what it is worked out from), or correct the rows at the site; then compare again";
  }

  private static String unlessMany(Unheld u) {
    return u.whole() ? "." : "; counted before the many rows that the version itself writes.";
  }

  /** What cannot be told from rows that the run writes is no reason to stop. */
  static Severity severity(boolean leftOut) {
    return leftOut ? Severity.BLOCKER : Severity.RISK;
  }

  /** Only rows that stay as they are; what the version brings is checked by "value-taken". */
  private static void duplicates(ImpactCase impact, Consumer<Finding> found) {
    unheld(
        impact,
        Unheld.Why.TWICE,
        (u, a) -> {
          if (a.count() > 0) {
            found.accept(
                Finding.of(
                        "duplicate-in-unique",
                        severity(u.whole()),
                        place(u),
                        a.count()
                            + (a.count() == 1 ? " value stands" : " values stand")
                            + " in more than one row of "
                            + u.change().table()
                            + ", and "
                            + String.join(", ", u.columns())
                            + " must be unique"
                            + unlessMany(u),
                        a.count(),
                        advice(u.question().converted()),
                        a.query())
                    .with(a.examples()));
          }
        });
  }

  /** A unique index over expressions, or of some rows. */
  private static void uniqueIndexes(ImpactCase impact, Consumer<Finding> found) {
    for (StructureChange c : changes(impact, Act.ADD_INDEX)) {
      Index index = Objects.requireNonNull(c.index());
      if (!index.unique()
          || !impact.tables().containsKey(c.table())
          || Unheld.plain(index).isPresent()) {
        continue;
      }
      Optional<IndexKeys> keys = IndexKeys.of(index);
      Optional<RowsToBe> rows =
          impact
              .delta(c.table())
              .filter(t -> keys.isPresent())
              .flatMap(t -> RowsToBe.of(impact.delta(), t, index.definition()));
      if (rows.isEmpty()) {
        found.accept(uncounted(c, index));
        continue;
      }
      Question.Answer a =
          impact.target().answer(rows.get().ask(Question.duplicatesBy(c.table(), keys.get())));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                    "duplicate-in-unique",
                    rows.get().severity(),
                    place(c, "index"),
                    a.count()
                        + (a.count() == 1 ? " value stands" : " values stand")
                        + " in more than one row of "
                        + c.table()
                        + ", and "
                        + String.join(", ", keys.get().keys())
                        + " must be unique"
                        + rows.get().ending(),
                    a.count(),
                    advice(rows.get().columns()),
                    a.query())
                .with(a.examples()));
      } else if (!rows.get().whole()) {
        found.accept(uncounted(c, index));
      }
    }
  }

  private static Finding uncounted(StructureChange c, Index index) {
    return Finding.said(
        "duplicate-in-unique",
        Severity.RISK,
        place(c, "index"),
        "Whether rows of "
            + c.table()
            + " are unique by "
            + c.name()
            + " could not be counted as a whole: "
            + index.definition()
            + ".",
        "Look for equal rows at the site; the run is refused unchanged when there are");
  }

  /** Only rows that stay as they are: what the version brings, it was sealed with. */
  private static void checks(ImpactCase impact, Consumer<Finding> found) {
    unheld(
        impact,
        Unheld.Why.UNMET,
        (u, a) -> {
          if (a.count() > 0) {
            found.accept(
                Finding.of(
                    "check-violated",
                    severity(u.whole()),
                    place(u),
                    rows(a.count())
                        + " of "
                        + u.change().table()
                        + (a.count() == 1 ? " does" : " do")
                        + " not meet "
                        + Objects.requireNonNull(u.change().constraint()).definition()
                        + unlessMany(u),
                    a.count(),
                    advice(u.question().converted()),
                    a.query()));
          }
        });
  }

  /** Only rows that stay as they are; what the version brings is checked by "row-missing". */
  private static void orphans(ImpactCase impact, Consumer<Finding> found) {
    Map<Unheld, Question.Answer> all = new LinkedHashMap<>();
    unheld(
        impact,
        Unheld.Why.ORPHAN,
        (u, a) -> {
          if (a.count() > 0) {
            all.put(u, a);
          }
        });
    Set<String> unfit = all.isEmpty() ? Set.of() : unfit(impact);
    all.forEach(
        (u, a) -> {
          // of values that have to become others first "value-does-not-fit" speaks
          if (u.columns().stream().noneMatch(c -> unfit.contains(u.change().table() + "." + c))) {
            orphans(u, a, found);
          }
        });
    for (StructureChange c : changes(impact, Act.ADD_FOREIGN_KEY)) {
      impact
          .delta(c.table())
          .filter(t -> t.present() != null)
          .flatMap(t -> Unheld.pointing(impact.delta(), t, c, impact.tables()))
          .ifPresent(u -> orphans(u, impact.target().answer(u.question()), found));
    }
  }

  /** Columns of which a value does not fit their new type. */
  private static Set<String> unfit(ImpactCase impact) {
    Set<String> out = new TreeSet<>();
    unheld(
        impact,
        Unheld.Why.NO_FIT,
        (u, a) -> {
          if (a.count() > 0) {
            out.add(u.change().table() + "." + u.change().name());
          }
        });
    return out;
  }

  private static void orphans(Unheld u, Question.Answer a, Consumer<Finding> found) {
    if (a.count() > 0) {
      found.accept(
          Finding.of(
                  "orphan-in-foreign-key",
                  severity(u.whole()),
                  place(u),
                  rows(a.count())
                      + " of "
                      + u.change().table()
                      + (a.count() == 1 ? " points" : " point")
                      + ", by "
                      + String.join(", ", u.columns())
                      + ", at nothing in "
                      + Objects.requireNonNull(u.change().constraint()).references()
                      + unlessMany(u),
                  a.count(),
                  u.question().converted().isEmpty()
                      ? "Add what they point at, or correct them, at the site first"
                      : advice(u.question().converted()),
                  a.query())
              .with(a.examples()));
    }
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
    touching.addAll(changes(impact, Act.DROP_COMPUTED));
    for (StructureChange c : touching) {
      dependents(
          impact,
          found,
          c,
          handled(impact, Question.of(Question.Type.DEPENDENTS, c.table(), c.name())));
    }
    for (StructureChange c : changes(impact, Act.DROP_TABLE)) {
      dependents(
          impact, found, c, handled(impact, Question.of(Question.Type.DEPENDENTS, c.table())));
    }
  }

  /** What goes before and comes again with the plan does not break. */
  private static Question handled(ImpactCase impact, Question question) {
    return question.text(
        Stream.concat(
                impact.delta().objects().stream()
                    .filter(ObjectDelta::goes)
                    .map(
                        o ->
                            o.was().sort() == SchemaObject.Sort.MATERIALIZED_VIEW
                                ? "materialized view " + bare(o)
                                : o.key().kind().code() + " " + bare(o)),
                impact.delta().tables().stream()
                    .filter(StructureRules::rulesGo)
                    .map(t -> "rule on " + t.table()))
            .sorted()
            .toList());
  }

  /** Whether the rules of a table go, or are made again. */
  private static boolean rulesGo(TablesDelta.TableDelta t) {
    List<String> going =
        StructureChange.between(t.table(), t.present(), t.result()).stream()
            .filter(c -> c.act() == Act.DROP_RULE)
            .map(c -> Setting.RULE + c.name())
            .toList();
    return t.present() != null
        && !going.isEmpty()
        && t.present().settings().stream()
            .filter(s -> s.name().startsWith(Setting.RULE))
            .allMatch(s -> going.contains(s.name()));
  }

  private static String bare(ObjectDelta o) {
    ObjectName name = o.was().name();
    return name.schema() + "." + name.name();
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
          if (c.act() == Act.DROP_CONSTRAINT && isMade(impact, changed, k)) {
            continue;
          }
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

  /** Whether a foreign key is made by the run, while another key keeps its columns apart. */
  private static boolean isMade(
      ImpactCase impact, TablesDelta.@Nullable TableDelta of, Constraint k) {
    if (of == null) {
      return false;
    }
    boolean comes = of.present() == null || !of.present().constraints().contains(k);
    return comes
        ? impact
            .delta(Objects.requireNonNull(k.references()))
            .filter(r -> Resting.hasKey(r.result(), k.referencedColumns()))
            .isPresent()
        : impact.delta().madeAgain(of).contains(k);
  }

  private static void dependents(
      ImpactCase impact, Consumer<Finding> found, StructureChange c, Question question) {
    Question.Answer a = impact.target().answer(question);
    if (a.count() > 0) {
      String what =
          c.name().isEmpty()
              ? "the table " + c.table()
              : "the column " + c.name() + " of " + c.table();
      found.accept(
          Finding.of(
              "dependent-breaks",
              Severity.BLOCKER,
              c.name().isEmpty() ? "table/" + c.table() : place(c, "column"),
              String.join(", ", a.examples())
                  + " would break: "
                  + (a.examples().size() == 1 ? "it uses " : "they use ")
                  + what
                  + ".",
              a.count(),
              "Change or drop it at the site first, and put it back afterwards",
              a.query()));
    }
  }

  private static void longLock(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      if (t.structureChanges() && t.present() != null) {
        longLock(impact, t.table(), found);
      }
    }
  }

  /** A large table is closed while it changes. */
  static void longLock(ImpactCase impact, TableName table, Consumer<Finding> found) {
    Question.Answer a = impact.target().answer(Question.of(Question.Type.BYTES, table));
    if (a.count() > LONG_BYTES) {
      found.accept(
          Finding.of(
              "long-lock",
              Severity.RISK,
              "table/" + table,
              table
                  + " has "
                  + (a.count() >> 20)
                  + " MB; while its structure changes, nobody can read or write it.",
              0,
              "Run it when few people work",
              a.query()));
    }
  }
}
