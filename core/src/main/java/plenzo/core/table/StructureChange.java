package plenzo.core.table;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;

/**
 * One change of structure, from before to after; exactly one side is null when something is created
 * or dropped.
 */
public record StructureChange(
    Act act,
    TableName table,
    String name,
    @Nullable TableStructure structure,
    @Nullable Column before,
    @Nullable Column after,
    @Nullable Constraint constraint,
    @Nullable Index index,
    @Nullable String comment) {

  /** What is done; the order of the constants is the order in which a run does them. */
  public enum Act {
    DROP_FOREIGN_KEY(Phase.BEFORE_ROWS),
    /** {@code name} is the table's that it inherits from no more. */
    LEAVE_PARENT(Phase.BEFORE_ROWS),
    DROP_CONSTRAINT(Phase.BEFORE_ROWS),
    DROP_INDEX(Phase.BEFORE_ROWS),
    /** A rule that goes, or holds a column that goes or gets another type: then it comes again. */
    DROP_RULE(Phase.BEFORE_ROWS),
    /** A computed column goes first: it holds the columns that it is computed from. */
    DROP_COMPUTED(Phase.BEFORE_ROWS),
    CREATE_TABLE(Phase.BEFORE_ROWS),
    ADD_COLUMN(Phase.BEFORE_ROWS),
    CHANGE_COLUMN(Phase.BEFORE_ROWS),
    /**
     * {@code name} is the partition's, {@code comment} what it is a partition of and its bounds.
     */
    ADD_PARTITION(Phase.BEFORE_ROWS),
    ADD_COMPUTED(Phase.BEFORE_ROWS),
    DROP_COLUMN(Phase.BEFORE_ROWS),
    SET_NOT_NULL(Phase.AFTER_ROWS),
    ADD_INDEX(Phase.AFTER_ROWS),
    ADD_CONSTRAINT(Phase.AFTER_ROWS),
    /**
     * {@code name} is the table's that it inherits from: it has all that is handed down by then.
     */
    JOIN_PARENT(Phase.AFTER_ROWS),
    ADD_FOREIGN_KEY(Phase.AFTER_ROWS),
    SET_COMMENT(Phase.AFTER_ROWS),
    /** {@code name} is the setting's, {@code comment} its value, null where it is set no more. */
    SET_SETTING(Phase.AFTER_ROWS),
    /** One without a row: those that have some are in the way. */
    DROP_PARTITION(Phase.AFTER_ROWS),
    DROP_TABLE(Phase.AFTER_ROWS);

    private final Phase phase;

    Act(Phase phase) {
      this.phase = phase;
    }

    public Phase phase() {
      return phase;
    }
  }

  /** Whether the change comes before the rows are written or after. */
  public enum Phase {
    BEFORE_ROWS,
    AFTER_ROWS
  }

  /** The changes from one structure to another; new columns are nullable until the rows are in. */
  public static List<StructureChange> between(
      TableName table, @Nullable TableStructure present, @Nullable TableStructure result) {
    List<StructureChange> out = new ArrayList<>();
    if (Objects.equals(present, result)) {
      return out;
    }
    TableStructure p = present == null ? TableStructure.EMPTY : present;
    TableStructure r = result == null ? TableStructure.EMPTY : result;
    List<Column> remade = remade(p, r);
    for (Constraint c : p.constraints()) {
      if ((!r.constraints().contains(c) || isOver(c, remade))
          && (result != null || c.type() == Constraint.Type.FOREIGN)) {
        out.add(
            change(
                    c.type() == Constraint.Type.FOREIGN
                        ? Act.DROP_FOREIGN_KEY
                        : Act.DROP_CONSTRAINT,
                    table,
                    c.name())
                .with(c));
      }
    }
    if (result == null) {
      // a rule holds other tables that it names, which may go before
      p.settings().stream()
          .filter(s -> s.name().startsWith(Setting.RULE))
          .forEach(
              s ->
                  out.add(change(Act.DROP_RULE, table, s.name().substring(Setting.RULE.length()))));
      out.add(
          new StructureChange(Act.DROP_TABLE, table, "", present, null, null, null, null, null));
      return out;
    }
    for (Index i : p.indexes()) {
      if (!r.indexes().contains(i) || isOver(i, remade)) {
        out.add(change(Act.DROP_INDEX, table, i.name()).with(i));
      }
    }
    if (present == null) {
      out.add(
          new StructureChange(Act.CREATE_TABLE, table, "", result, null, null, null, null, null));
    }
    columns(table, present == null, p, r, remade, out);
    if (present != null) {
      partitions(table, p, r, out);
      parents(table, p, r, out);
    }
    rules(table, p, r, out);
    for (Index i : r.indexes()) {
      if (!p.indexes().contains(i) || isOver(i, remade)) {
        out.add(change(Act.ADD_INDEX, table, i.name()).with(i));
      }
    }
    for (Constraint c : r.constraints()) {
      if (!p.constraints().contains(c) || isOver(c, remade)) {
        out.add(
            change(
                    c.type() == Constraint.Type.FOREIGN ? Act.ADD_FOREIGN_KEY : Act.ADD_CONSTRAINT,
                    table,
                    c.name())
                .with(c));
      }
    }
    if (!Objects.equals(p.comment(), r.comment())) {
      out.add(
          new StructureChange(
              Act.SET_COMMENT, table, "", null, null, null, null, null, r.comment()));
    }
    settings(table, p, r, out);
    return out;
  }

  /** Partitions come before what they are in and go behind it; bounds of one are never changed. */
  private static void partitions(
      TableName table, TableStructure p, TableStructure r, List<StructureChange> out) {
    for (Setting s : r.partitions()) {
      if (p.setting(s.name()).isEmpty()) {
        StructureChange added = partition(Act.ADD_PARTITION, table, s);
        out.add(added);
        // the server gives it on where it is set, and not to partitions that come later
        r.settings().stream()
            .filter(of -> of.name().startsWith(Setting.TARGET))
            .forEach(of -> out.add(setting(TableName.of(added.name()), of.name(), of.value())));
      }
    }
    List<Setting> gone = new ArrayList<>(p.partitions());
    gone.removeIf(s -> r.setting(s.name()).isPresent());
    Collections.reverse(gone);
    gone.forEach(s -> out.add(partition(Act.DROP_PARTITION, table, s)));
  }

  /** Their order is that in which they were joined. */
  private static void parents(
      TableName table, TableStructure p, TableStructure r, List<StructureChange> out) {
    List<TableName> was = p.inherits();
    List<TableName> is = r.inherits();
    int same = 0;
    while (same < Math.min(was.size(), is.size()) && was.get(same).equals(is.get(same))) {
      same++;
    }
    was.subList(same, was.size()).forEach(x -> out.add(parent(Act.LEAVE_PARENT, table, x)));
    is.subList(same, is.size()).forEach(x -> out.add(parent(Act.JOIN_PARENT, table, x)));
  }

  static StructureChange parent(Act act, TableName table, TableName parent) {
    return change(act, table, parent.componentName());
  }

  /** A foreign key that goes, or comes. */
  public static StructureChange foreignKey(Act act, TableName table, Constraint k) {
    return change(act, table, k.name()).with(k);
  }

  /** Another column in the place of one. */
  public static StructureChange changed(TableName table, Column before, Column after) {
    return column(Act.CHANGE_COLUMN, table, before, after);
  }

  /** The same of another table. */
  StructureChange of(TableName other) {
    return new StructureChange(
        act, other, name, structure, before, after, constraint, index, comment);
  }

  /** The same of a table with another structure. */
  StructureChange with(TableStructure other) {
    return new StructureChange(act, table, name, other, before, after, constraint, index, comment);
  }

  private static final String WHERE_LEFT = "where it is left";

  /** What goes where it has not gone with that of a table above. */
  StructureChange whereLeft() {
    return new StructureChange(
        act, table, name, structure, before, after, constraint, index, WHERE_LEFT);
  }

  public boolean isWhereLeft() {
    return WHERE_LEFT.equals(comment) && (before != null || constraint != null);
  }

  private static StructureChange partition(Act act, TableName table, Setting s) {
    String name = s.name().substring(Setting.PARTITION.length());
    return new StructureChange(act, table, name, null, null, null, null, null, s.value());
  }

  /**
   * Columns that go and come again: because they are computed otherwise, or because a column that
   * they are computed from gets another type.
   */
  private static List<Column> remade(TableStructure p, TableStructure r) {
    List<String> retyped =
        r.columns().stream()
            .filter(c -> p.column(c.name()).filter(was -> !was.type().equals(c.type())).isPresent())
            .map(Column::name)
            .toList();
    return r.columns().stream()
        .filter(c -> p.column(c.name()).isPresent())
        .filter(
            c -> {
              Column was = p.column(c.name()).orElseThrow();
              return c.isComputed() && !Objects.equals(was.generated(), c.generated())
                  || c.isComputed() && !was.type().equals(c.type())
                  || isFrom(was, retyped)
                  || isFrom(c, retyped);
            })
        .toList();
  }

  private static boolean isFrom(Column c, List<String> columns) {
    String expression = c.generated();
    return expression != null && columns.stream().anyMatch(n -> Renaming.names(expression, n));
  }

  private static boolean isOver(Constraint k, List<Column> remade) {
    return remade.stream().anyMatch(c -> k.columns().contains(c.name()));
  }

  private static boolean isOver(Index i, List<Column> remade) {
    return remade.stream().anyMatch(c -> Renaming.names(i.definition(), c.name()));
  }

  private static void rules(
      TableName table, TableStructure p, TableStructure r, List<StructureChange> out) {
    List<String> moving =
        out.stream()
            .filter(
                c ->
                    c.act() == Act.DROP_COLUMN
                        || c.act() == Act.DROP_COMPUTED
                        || c.act() == Act.CHANGE_COLUMN && isRetyped(c))
            .map(StructureChange::name)
            .toList();
    for (Setting s : p.settings()) {
      if (s.name().startsWith(Setting.RULE)
          && (r.setting(s.name()).isEmpty()
              || Renaming.isByNamesOfBefore(s) && !moving.isEmpty()
              || moving.stream().anyMatch(c -> Renaming.mentions(s.value(), c)))) {
        out.add(change(Act.DROP_RULE, table, s.name().substring(Setting.RULE.length())));
      }
    }
  }

  private static boolean isRetyped(StructureChange c) {
    return !Objects.requireNonNull(c.before())
        .type()
        .equals(Objects.requireNonNull(c.after()).type());
  }

  private static void settings(
      TableName table, TableStructure p, TableStructure r, List<StructureChange> out) {
    List<String> made =
        out.stream()
            .filter(c -> c.act() == Act.ADD_CONSTRAINT || c.act() == Act.ADD_INDEX)
            .map(StructureChange::name)
            .toList();
    for (Setting s : r.settingsInOrder()) {
      // what is said of a constraint or index goes with it, and comes again
      boolean again =
          made.stream().anyMatch(n -> isAbout(s, n))
              || out.stream().anyMatch(c -> isDropped(c, s))
              || s.column().filter(c -> isLost(s, c, out)).isPresent();
      if (!s.partitions() && !s.inherits() && (!p.settings().contains(s) || again)) {
        out.add(setting(table, s.name(), s.value()));
      }
    }
    for (Setting s : p.settings()) {
      boolean gone =
          !s.partitions()
              && !s.inherits()
              && r.setting(s.name()).isEmpty()
              && s.column().filter(c -> r.column(c).isEmpty()).isEmpty()
              && out.stream().noneMatch(c -> isDropped(c, s))
              && out.stream()
                  .filter(c -> c.act() == Act.DROP_CONSTRAINT || c.act() == Act.DROP_INDEX)
                  .noneMatch(c -> isAbout(s, c.name()));
      if (gone) {
        out.add(setting(table, s.name(), null));
      }
    }
  }

  /** Whether a setting of a column goes with what is done to the column. */
  private static boolean isLost(Setting s, String column, List<StructureChange> done) {
    return done.stream()
        .filter(c -> c.name().equals(column))
        .anyMatch(
            c ->
                c.act() == Act.DROP_COMPUTED
                    || c.act() == Act.CHANGE_COLUMN && s.goesWithType() && isRetyped(c));
  }

  private static boolean isDropped(StructureChange c, Setting rule) {
    return c.act() == Act.DROP_RULE && rule.name().equals(Setting.RULE + c.name());
  }

  private static boolean isAbout(Setting s, String part) {
    return s.name().equals(Setting.CONSTRAINT_COMMENT + part)
        || s.name().equals(Setting.INDEX_COMMENT + part)
        || s.name().equals(Setting.CLUSTERED) && s.value().equals(part)
        || s.name().equals(Setting.REPLICA_IDENTITY) && s.value().equals("index " + part);
  }

  private static StructureChange setting(TableName table, String name, @Nullable String value) {
    return new StructureChange(Act.SET_SETTING, table, name, null, null, null, null, null, value);
  }

  private static void columns(
      TableName table,
      boolean created,
      TableStructure p,
      TableStructure r,
      List<Column> remade,
      List<StructureChange> out) {
    for (Column c : r.inOrder()) {
      Column before = p.column(c.name()).orElse(null);
      if (before == null) {
        if (!created) {
          out.add(column(c.isComputed() ? Act.ADD_COMPUTED : Act.ADD_COLUMN, table, null, c));
        }
      } else if (remade.contains(c)) {
        out.add(column(Act.DROP_COMPUTED, table, before, null));
        out.add(column(c.isComputed() ? Act.ADD_COMPUTED : Act.ADD_COLUMN, table, null, c));
      } else if (!before.equals(c)) {
        if (!before.withoutNotNull().equals(c.withoutNotNull())
            || before.notNull() && !c.notNull()) {
          out.add(column(Act.CHANGE_COLUMN, table, before, c));
        }
      }
      if (c.notNull() && (before == null || !before.notNull())) {
        out.add(column(Act.SET_NOT_NULL, table, before, c));
      }
    }
    for (Column c : p.columns()) {
      if (r.column(c.name()).isEmpty()) {
        out.add(column(c.isComputed() ? Act.DROP_COMPUTED : Act.DROP_COLUMN, table, c, null));
      }
    }
  }

  private static StructureChange change(Act act, TableName table, String name) {
    return new StructureChange(act, table, name, null, null, null, null, null, null);
  }

  private static StructureChange column(
      Act act, TableName table, @Nullable Column before, @Nullable Column after) {
    String name = after == null ? Objects.requireNonNull(before).name() : after.name();
    return new StructureChange(act, table, name, null, before, after, null, null, null);
  }

  private StructureChange with(Constraint c) {
    return new StructureChange(act, table, name, structure, before, after, c, index, comment);
  }

  private StructureChange with(Index i) {
    return new StructureChange(act, table, name, structure, before, after, constraint, i, comment);
  }
}
