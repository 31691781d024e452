package plenzo.core.impact;

import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/**
 * What a column that comes holds in the rows that are there: its default, what it is computed from,
 * or nothing. So what must hold of it can be counted before it is there.
 */
final class NewColumns {
  /** What a column holds of which nothing is said. */
  private static final String NOTHING = "NULL";

  private NewColumns() {}

  /**
   * The expression that every row of now gets in such a column.
   *
   * @return empty when the table has the column, when each row gets a value of its own (numbers
   *     that are drawn), when its type may say what it is, and when what it is computed from is not
   *     there
   */
  static Optional<Conversion> holds(TablesDelta.TableDelta t, String column) {
    TableStructure present = t.present();
    Column is = t.result() == null ? null : t.result().column(column).orElse(null);
    if (present == null || is == null || present.column(column).isPresent()) {
      return Optional.empty();
    }
    String text = is.isComputed() ? Objects.requireNonNull(is.generated()) : is.defaultExpression();
    // a type of somebody's own may be a domain with a default of its own
    boolean unknown = text == null && is.type().contains(".");
    if (is.identity() != null || is.sequence() != null || draws(text) || unknown) {
      return Optional.empty();
    }
    return Optional.of(Conversion.printed(text == null ? NOTHING : text, present))
        .filter(c -> !is.isComputed() || computedOfWhatIs(t, c));
  }

  private static boolean draws(@Nullable String expression) {
    return expression != null && expression.contains("nextval(");
  }

  /** Whether what it is computed from is there as it will be. */
  private static boolean computedOfWhatIs(TablesDelta.TableDelta t, Conversion c) {
    TableStructure present = Objects.requireNonNull(t.present());
    TableStructure result = Objects.requireNonNull(t.result());
    return c.isFor(present)
        && result.columns().stream()
            .filter(n -> c.names(n.name()))
            .allMatch(
                n -> present.column(n.name()).filter(p -> p.type().equals(n.type())).isPresent());
  }

  /** Whether one of the columns comes and has no value: then neither keys nor pointers count. */
  static boolean someEmpty(TablesDelta.TableDelta t, List<String> columns) {
    return columns.stream()
        .anyMatch(
            n ->
                !t.workedOut().containsKey(n)
                    && holds(t, n).filter(c -> c.expression().equals(NOTHING)).isPresent());
  }
}
