package plenzo.core.table;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;

/**
 * A primary key, unique, foreign key or check constraint; the definition is the server's own text.
 */
public record Constraint(
    String name,
    Type type,
    String definition,
    List<String> columns,
    @Nullable TableName references,
    List<String> referencedColumns) {
  public Constraint {
    definition = Printed.of(definition);
    columns = List.copyOf(columns);
    referencedColumns = List.copyOf(referencedColumns);
  }

  /** Kinds of constraint, with the code that is stored. */
  public enum Type {
    PRIMARY,
    UNIQUE,
    FOREIGN,
    CHECK,
    /** No two rows for which all of its operators hold. */
    EXCLUDE
  }

  Json toJson() {
    return Json.object(
        "name",
        name,
        "type",
        type.name(),
        "definition",
        definition,
        "columns",
        columns,
        "references",
        references == null ? null : references.componentName(),
        "referencedColumns",
        referencedColumns);
  }

  static Constraint of(Json.Obj j) {
    String references = j.findText("references");
    return new Constraint(
        j.text("name"),
        Type.valueOf(j.text("type")),
        j.text("definition"),
        j.texts("columns"),
        references == null ? null : TableName.of(references),
        j.texts("referencedColumns"));
  }
}
