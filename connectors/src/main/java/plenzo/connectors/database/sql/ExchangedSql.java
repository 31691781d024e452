package plenzo.connectors.database.sql;

import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.table.Column;

/** What becomes of a value whose type is exchanged for another one of the same name. */
final class ExchangedSql {
  private ExchangedSql() {}

  /**
   * An expression over the column: by what the type prints, and of a composite type attribute by
   * attribute. An array of those is read as it prints; the rules let only those through whose
   * attributes are called the same and stand in the same order.
   */
  static String value(ObjectDelta o, Column c) {
    String column = Sql.name(c.name());
    if (o.was().sort() != Sort.COMPOSITE || c.type().endsWith("]")) {
      return column + "::text::" + c.type();
    }
    Map<String, String> before = o.was().attributes();
    String attributes =
        o.becomes().attributes().entrySet().stream()
            .map(
                a ->
                    attribute(
                        "(" + column + ")." + a.getKey(), before.get(a.getKey()), a.getValue()))
            .collect(Collectors.joining(", "));
    // a row of nothing is a value, and IS NULL would not tell it from none
    return "CASE WHEN "
        + column
        + "::text IS NULL THEN NULL ELSE ROW("
        + attributes
        + ")::"
        + c.type()
        + " END";
  }

  private static String attribute(String value, @Nullable String was, String is) {
    if (was == null) {
      return "NULL";
    }
    String type = SchemaObject.withoutCollation(is);
    // a type with a schema may be exchanged in the same run
    if (SchemaObject.withoutCollation(was).equals(type) && type.indexOf('.') < 0) {
      return value;
    }
    return value + "::text" + (type.equals("text") ? "" : "::" + type);
  }
}
