package plenzo.core.version;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowsPolicy;
import plenzo.core.table.ColumnPlaces;
import plenzo.core.table.Conversion;
import plenzo.core.table.Conversions;
import plenzo.core.table.Renaming;

/**
 * One component of a version.
 *
 * @param uid never changes, even when the component is renamed
 * @param content digest of kind and canonical content
 * @param options canonical JSON of what belongs to the pick (key and condition of records; order of
 *     a table's columns, their new names, and what their values are worked out from), or null
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

  /**
   * Which rows records are, and what columns of a table are worked out from, in words; empty of
   * whatever says neither.
   */
  public String which() {
    if (key.kind() == Kind.RECORDS) {
      return records().words();
    }
    List<String> out = new ArrayList<>();
    conversions().forEach((column, c) -> out.add(column + " by " + c.expression()));
    conversionsBack().forEach((column, c) -> out.add("back: " + column + " by " + c.expression()));
    return String.join("; ", out);
  }

  /** What is done to other rows of a site; ordinary of whatever has no rows. */
  public RowsPolicy policy() {
    return key.kind() == Kind.RECORDS && options != null
        ? records().policy()
        : RowsPolicy.ADD_AND_CHANGE;
  }

  /** How a table's columns stood. */
  public ColumnPlaces places() {
    return key.kind() != Kind.TABLE || options == null
        ? ColumnPlaces.NOT_KNOWN
        : ColumnPlaces.of(Json.parseObject(options));
  }

  /**
   * Columns of a table that had another name in the version that it was drafted from: from that to
   * the name that they have.
   */
  public Map<String, String> renamed() {
    Map<String, String> out = new TreeMap<>();
    if (key.kind() == Kind.TABLE
        && options != null
        && Json.parseObject(options).find("renamed") instanceof Json.Obj names) {
      names.members().keySet().forEach(was -> out.put(was, names.text(was)));
    }
    return out;
  }

  /** Columns of a table whose values are worked out from those of the version before. */
  public Map<String, Conversion> conversions() {
    return conversions("conversions");
  }

  /**
   * Columns of the version before whose values are worked out from those of this one, where one
   * goes back.
   */
  public Map<String, Conversion> conversionsBack() {
    return conversions("back");
  }

  private Map<String, Conversion> conversions(String way) {
    return key.kind() == Kind.TABLE
            && options != null
            && Json.parseObject(options).find(way) instanceof Json.Obj stated
        ? Conversions.of(stated)
        : Map.of();
  }

  /** Options of a table whose columns stood so; null when that is not known. */
  public static @Nullable String options(ColumnPlaces places) {
    Json.Obj told = places.toJson();
    return told.members().isEmpty() ? null : told.canonical();
  }

  /** The same with columns that had another name. */
  public VersionEntry renaming(Map<String, String> names) {
    return ofTable(names, conversions(), conversionsBack());
  }

  /** The same with columns whose values are worked out, forth and back. */
  public VersionEntry converting(Map<String, Conversion> forth, Map<String, Conversion> back) {
    return ofTable(renamed(), forth, back);
  }

  private VersionEntry ofTable(
      Map<String, String> names, Map<String, Conversion> forth, Map<String, Conversion> back) {
    if (names.isEmpty() && forth.isEmpty() && back.isEmpty()) {
      return this;
    }
    Map<String, Json> next = new TreeMap<>(places().toJson().members());
    if (!names.isEmpty()) {
      Map<String, Json> texts = new TreeMap<>();
      names.forEach((was, is) -> texts.put(was, new Json.Str(is)));
      next.put("renamed", Json.object(texts));
    }
    if (!forth.isEmpty()) {
      next.put("conversions", Conversions.toJson(forth));
    }
    if (!back.isEmpty()) {
      next.put("back", Conversions.toJson(back));
    }
    return new VersionEntry(key, uid, content, Json.object(next).canonical(), rows, origin);
  }

  /** The same by the names of afterwards: its own, and of records their table's and key's too. */
  public VersionEntry named(Renaming names) {
    if (names.isEmpty()) {
      return this;
    }
    ComponentKey is = names.named(key);
    String next = options;
    if (key.kind() == Kind.RECORDS && options != null) {
      next = records().named(names).toJson().canonical();
    }
    return new VersionEntry(is, uid, content, next, rows, origin);
  }

  /** Whether another version has the very same of it. */
  public boolean sameAs(VersionEntry other) {
    return content.equals(other.content) && Objects.equals(options, other.options);
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
