package plenzo.core.records;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;
import plenzo.core.table.Renaming;

/**
 * Which rows of a table are reference data: its key columns and an optional condition. Part of a
 * version as the component's options.
 */
public record RecordsDefinition(
    TableName table, List<String> key, @Nullable RowCondition condition) {
  public RecordsDefinition {
    key = List.copyOf(key);
    if (key.isEmpty()) {
      throw new IllegalArgumentException("Records of " + table + " need at least one key column");
    }
  }

  public Json toJson() {
    return Json.object(
        "table",
        table.componentName(),
        "key",
        key,
        "condition",
        condition == null ? null : condition.toJson());
  }

  public static RecordsDefinition of(Json json) {
    Json.Obj j = json.asObject();
    Json condition = j.find("condition");
    return new RecordsDefinition(
        TableName.of(j.text("table")),
        j.texts("key"),
        condition == null ? null : RowCondition.of(condition));
  }

  /** The same by the names of afterwards. */
  public RecordsDefinition named(Renaming names) {
    TableName is = names.named(table);
    Map<String, String> columns = names.columns(is);
    return new RecordsDefinition(
        is, Renaming.names(key, columns), condition == null ? null : condition.renamed(columns));
  }

  /** Columns in canonical order: the key first, then the others by name. */
  public List<String> ordered(List<String> columns) {
    List<String> out = new ArrayList<>(key);
    columns.stream().filter(c -> !key.contains(c)).sorted().forEach(out::add);
    return out;
  }
}
