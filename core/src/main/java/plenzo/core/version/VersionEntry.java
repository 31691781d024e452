package plenzo.core.version;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.records.RecordsDefinition;

/**
 * One component of a version.
 *
 * @param uid never changes, even when the component is renamed
 * @param content digest of kind and canonical content
 * @param options canonical JSON of what belongs to the pick (key and condition of records, order of
 *     a table's columns), or null
 * @param rows how many rows the content has; 0 for a structure
 * @param origin where the content came from, in words
 */
public record VersionEntry(
    ComponentKey key,
    String uid,
    Digest content,
    @Nullable String options,
    long rows,
    String origin) {
  public RecordsDefinition records() {
    if (key.kind() != Kind.RECORDS || options == null) {
      throw new IllegalStateException(key + " has no records definition");
    }
    return RecordsDefinition.of(Json.parse(options));
  }

  /** Names of a table's columns in the order in which they stood; empty when not known. */
  public List<String> columnOrder() {
    return key.kind() != Kind.TABLE || options == null
        ? List.of()
        : (Json.parseObject(options)).texts("columns");
  }

  /** Options of a table whose columns stood in an order. */
  public static String options(List<String> columns) {
    return Json.object("columns", columns).canonical();
  }

  Json toJson() {
    return Json.object(
        "key",
        key.toString(),
        "uid",
        uid,
        "content",
        content.hex(),
        "options",
        options == null ? null : Json.parse(options));
  }
}
