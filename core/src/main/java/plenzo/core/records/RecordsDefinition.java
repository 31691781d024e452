package plenzo.core.records;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;
import plenzo.core.table.Renaming;

/**
 * Which rows of a table are reference data: its key columns and an optional condition; and what a
 * version does to others that a site has. Part of a version as the component's options.
 */
public record RecordsDefinition(
    TableName table, List<String> key, @Nullable RowCondition condition, RowsPolicy policy) {
  /** Rows that are added and changed. */
  public RecordsDefinition(TableName table, List<String> key, @Nullable RowCondition condition) {
    this(table, key, condition, RowsPolicy.ADD_AND_CHANGE);
  }

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
        condition == null ? null : condition.toJson(),
        "policy",
        policy == RowsPolicy.ADD_AND_CHANGE ? null : policy.code());
  }

  /** "by code, zone; only zone = 'N'; add only". */
  public String words() {
    return "by "
        + String.join(", ", key)
        + (condition == null ? "" : "; only " + ConditionText.text(condition))
        + (policy == RowsPolicy.ADD_AND_CHANGE ? "" : "; " + policy.words());
  }

  /** The same rows under another policy. */
  public RecordsDefinition with(RowsPolicy next) {
    return new RecordsDefinition(table, key, condition, next);
  }

  /** Whether both are of the same rows, told apart by the same columns. */
  public boolean sameRows(RecordsDefinition other) {
    return with(other.policy).equals(other);
  }

  public static RecordsDefinition of(Json json) {
    Json.Obj j = json.asObject();
    Json condition = j.find("condition");
    String policy = j.findText("policy");
    return new RecordsDefinition(
        TableName.of(j.text("table")),
        j.texts("key"),
        condition == null ? null : RowCondition.of(condition),
        policy == null ? RowsPolicy.ADD_AND_CHANGE : RowsPolicy.of(policy));
  }

  /** The same by the names of afterwards. */
  public RecordsDefinition named(Renaming names) {
    TableName is = names.named(table);
    Map<String, String> columns = names.columns(is);
    return new RecordsDefinition(
        is,
        Renaming.names(key, columns),
        condition == null ? null : condition.renamed(columns),
        policy);
  }

  /** Columns in canonical order: the key first, then the others by name. */
  public List<String> ordered(List<String> columns) {
    List<String> out = new ArrayList<>(key);
    columns.stream().filter(c -> !key.contains(c)).sorted().forEach(out::add);
    return out;
  }
}
