package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.IntFunction;
import java.util.stream.IntStream;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.StructureChange;
import plenzo.core.target.TablesDelta;

/** The statements of a switch that change structure, before and after its rows are written. */
public final class SwitchSql {
  private final TablesDelta delta;
  private final IntFunction<String> stage;

  /**
   * @param stage name of the table in which the n-th of {@link TablesDelta#staged()} stands
   */
  public SwitchSql(TablesDelta delta, IntFunction<String> stage) {
    this.delta = delta;
    this.stage = stage;
  }

  public List<String> before() {
    List<String> out = new ArrayList<>();
    for (StructureChange c : delta.structure(StructureChange.Phase.BEFORE_ROWS)) {
      List<String> emptying = emptying(c);
      if (!emptying.isEmpty() && Objects.requireNonNull(c.before()).notNull()) {
        out.add(notNull(c, "DROP"));
      }
      out.addAll(emptying);
      out.addAll(StructureSql.statements(c));
    }
    return out;
  }

  public List<String> after() {
    List<String> out = new ArrayList<>();
    for (StructureChange c : delta.structure(StructureChange.Phase.BEFORE_ROWS)) {
      if (!emptying(c).isEmpty()
          && Objects.requireNonNull(c.before()).notNull()
          && Objects.requireNonNull(c.after()).notNull()) {
        out.add(notNull(c, "SET"));
      }
    }
    delta
        .structure(StructureChange.Phase.AFTER_ROWS)
        .forEach(c -> out.addAll(StructureSql.statements(c)));
    return out;
  }

  private static String notNull(StructureChange c, String verb) {
    return "ALTER TABLE "
        + Sql.name(c.table())
        + " ALTER COLUMN "
        + Sql.name(c.name())
        + " "
        + verb
        + " NOT NULL";
  }

  /** A value that goes or is written anew must not be in the way of its column's new type. */
  private List<String> emptying(StructureChange c) {
    Column before = c.before();
    Column after = c.after();
    if (c.act() != StructureChange.Act.CHANGE_COLUMN
        || before == null
        || after == null
        || before.type().equals(after.type())
        || before.identity() != null) {
      return List.of();
    }
    List<TablesDelta.Staged> staged = delta.staged();
    return IntStream.range(0, staged.size())
        .filter(n -> staged.get(n).table().table().equals(c.table()))
        .filter(n -> writes(staged.get(n), c.name()))
        .mapToObj(
            n -> RowsSql.empty(c.table(), c.name(), staged.get(n).rows().columns(), stage.apply(n)))
        .toList();
  }

  /** Whether values go or are written anew; a key's column cannot be emptied. */
  private static boolean writes(TablesDelta.Staged s, String column) {
    boolean key =
        Objects.requireNonNull(s.table().present())
            .primaryKey()
            .map(Constraint::columns)
            .orElse(List.of())
            .contains(column);
    return !key
        && (s.rows().removed() > 0
            || s.rows().changed() > 0 && s.rows().columns().position(column) >= 0);
  }
}
