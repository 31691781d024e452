package plenzo.core.table;

import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * One column. Types and expressions are texts as the server prints them with search_path
 * pg_catalog.
 *
 * @param identity "always", "by default" or null
 * @param sequence options of the sequence that the column owns, or null; its value is never part of
 *     it
 */
public record Column(
    String name,
    String type,
    boolean notNull,
    @Nullable String defaultExpression,
    @Nullable String identity,
    @Nullable String collation,
    @Nullable OwnedSequence sequence,
    @Nullable String comment) {

  Json toJson() {
    return Json.object(
        "name",
        name,
        "type",
        type,
        "notNull",
        notNull,
        "default",
        defaultExpression,
        "identity",
        identity,
        "collation",
        collation,
        "sequence",
        sequence == null ? null : sequence.toJson(),
        "comment",
        comment);
  }

  static Column of(Json.Obj j) {
    return new Column(
        j.text("name"),
        j.text("type"),
        j.flag("notNull"),
        j.findText("default"),
        j.findText("identity"),
        j.findText("collation"),
        j.find("sequence") instanceof Json.Obj s ? OwnedSequence.of(s) : null,
        j.findText("comment"));
  }

  public Column withoutNotNull() {
    return new Column(name, type, false, defaultExpression, identity, collation, sequence, comment);
  }
}
