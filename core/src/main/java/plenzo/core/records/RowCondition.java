package plenzo.core.records;

import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * A small typed filter over the rows of a table. Connectors render it; people never write SQL for
 * it.
 *
 * @param operator "and", "or", "not" over parts; or "=", "<>", "<", "<=", ">", ">=", "is null" over
 *     a column
 */
public record RowCondition(
    String operator, @Nullable String column, @Nullable String value, List<RowCondition> parts) {
  private static final Set<String> COMPARING = Set.of("=", "<>", "<", "<=", ">", ">=");

  public RowCondition {
    parts = List.copyOf(parts);
    boolean known =
        switch (operator) {
          case "and", "or" -> !parts.isEmpty() && column == null;
          case "not" -> parts.size() == 1 && column == null;
          case "is null" -> column != null && value == null && parts.isEmpty();
          default ->
              COMPARING.contains(operator) && column != null && value != null && parts.isEmpty();
        };
    if (!known) {
      throw new IllegalArgumentException(
          "A condition is column, operator (=, <>, <, <=, >, >=, is null) and value, joined by and, or, not");
    }
  }

  public Json toJson() {
    return Json.object(
        "operator",
        operator,
        "column",
        column,
        "value",
        value,
        "parts",
        parts.isEmpty() ? null : new Json.Arr(parts.stream().map(RowCondition::toJson).toList()));
  }

  /** The same with other names of columns, from those that it has. */
  public RowCondition renamed(java.util.Map<String, String> names) {
    return new RowCondition(
        operator,
        column == null ? null : names.getOrDefault(column, column),
        value,
        parts.stream().map(p -> p.renamed(names)).toList());
  }

  public static RowCondition of(Json json) {
    Json.Obj j = json.asObject();
    return new RowCondition(
        j.text("operator"),
        j.findText("column"),
        j.findText("value"),
        j.list("parts").stream().map(RowCondition::of).toList());
  }
}
