package plenzo.core.table;

import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * One column. Types and expressions are texts as the server prints them with search_path
 * pg_catalog.
 *
 * @param identity "always", "by default" or null
 * @param generated expression from which its values are computed and stored, or null
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
    @Nullable String comment,
    @Nullable String generated) {
  public Column {
    defaultExpression = defaultExpression == null ? null : Printed.of(defaultExpression);
    generated = generated == null ? null : Printed.of(generated);
  }

  /** One whose values are not computed from others. */
  public Column(
      String name,
      String type,
      boolean notNull,
      @Nullable String defaultExpression,
      @Nullable String identity,
      @Nullable String collation,
      @Nullable OwnedSequence sequence,
      @Nullable String comment) {
    this(name, type, notNull, defaultExpression, identity, collation, sequence, comment, null);
  }

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
        comment,
        "generated",
        generated);
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
        j.findText("comment"),
        j.findText("generated"));
  }

  public Column named(String other) {
    return other.equals(name)
        ? this
        : new Column(
            other,
            type,
            notNull,
            defaultExpression,
            identity,
            collation,
            sequence,
            comment,
            generated);
  }

  /** Whether its values are computed from others. */
  public boolean isComputed() {
    return generated != null;
  }

  /** The same computed by another expression. */
  public Column computed(@Nullable String expression) {
    return new Column(
        name, type, notNull, defaultExpression, identity, collation, sequence, comment, expression);
  }

  Column withDefault(String expression) {
    return new Column(
        name, type, notNull, expression, identity, collation, sequence, comment, generated);
  }

  public Column withoutDefault() {
    return new Column(name, type, notNull, null, identity, collation, sequence, comment, generated);
  }

  public Column withNotNull() {
    return new Column(
        name, type, true, defaultExpression, identity, collation, sequence, comment, generated);
  }

  public Column withoutNotNull() {
    return new Column(
        name, type, false, defaultExpression, identity, collation, sequence, comment, generated);
  }
}
