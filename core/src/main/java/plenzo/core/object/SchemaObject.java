package plenzo.core.object;

import java.nio.charset.StandardCharsets;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.SortedMap;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.ObjectName;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.table.Printed;
import plenzo.core.table.Renaming;
import plenzo.core.words.Codes;

/**
 * What a schema has by name beside its tables. What is SQL by nature stands as the server prints it
 * with search_path pg_catalog. See docs/formats/component-document.md.
 *
 * @param shape what others build on: columns of a view, arguments and result of a routine, labels
 *     of an enumeration, attributes of a composite type, the base of a domain or range, what a
 *     grant is about
 * @param parts what can be changed by itself, by name: options of a sequence, constraints of a
 *     domain, comments on columns of a view, rights that a grant gives
 * @param body what is SQL by nature; empty where parts say it all
 * @param needs what the server knows that it depends on, sorted
 * @param extensions whose members it needs, sorted
 */
public record SchemaObject(
    ComponentKey key,
    Sort sort,
    List<String> shape,
    SortedMap<String, String> parts,
    String body,
    @Nullable String comment,
    List<Needed> needs,
    List<String> extensions) {
  /** Longest document that is taken: 1 MiB (guess: far above code in use). */
  public static final int LONGEST = 1 << 20;

  /** A comment on a part stands under this, followed by the part's own name. */
  public static final String COMMENT = "comment/";

  public SchemaObject {
    shape = List.copyOf(shape);
    SortedMap<String, String> told = new TreeMap<>(parts);
    if (sort != Sort.GRANT && sort != Sort.SEQUENCE) {
      told.replaceAll((name, value) -> name.startsWith(COMMENT) ? value : Printed.of(value));
    }
    parts = Collections.unmodifiableSortedMap(told);
    body = isPrinted(sort, body) ? Printed.of(body) : body;
    needs = needs.stream().sorted().toList();
    extensions = extensions.stream().sorted().toList();
  }

  /** Whether the server prints the body from what it read; other bodies it keeps as they came. */
  private static boolean isPrinted(Sort sort, String body) {
    return switch (sort) {
      case VIEW, MATERIALIZED_VIEW, TRIGGER, POLICY, DOMAIN -> true;
      case FUNCTION, PROCEDURE -> body.contains("BEGIN ATOMIC") && !body.contains("AS $");
      default -> false;
    };
  }

  /** What it is, with the word of the trade. */
  public enum Sort {
    VIEW("view"),
    MATERIALIZED_VIEW("materialized view"),
    FUNCTION("function"),
    PROCEDURE("procedure"),
    AGGREGATE("aggregate"),
    SEQUENCE("sequence"),
    TRIGGER("trigger"),
    ENUM("enumeration"),
    DOMAIN("domain"),
    COMPOSITE("composite type"),
    RANGE("range type"),
    POLICY("policy"),
    GRANT("grant");

    private final String word;

    Sort(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    static Sort of(String word) {
      return Codes.find("a sort of schema object", values(), Sort::word, word);
    }
  }

  /**
   * A component that it depends on.
   *
   * @param parts of a table the columns and constraints, such as {@code column/code}; empty where
   *     it is the whole
   */
  public record Needed(ComponentKey component, List<String> parts) implements Comparable<Needed> {
    public Needed {
      parts = parts.stream().sorted().toList();
    }

    @Override
    public int compareTo(Needed other) {
      return component.compareTo(other.component);
    }

    Json toJson() {
      return Json.object(
          "component", component.toString(), "parts", parts.isEmpty() ? null : parts);
    }

    static Needed of(Json json) {
      Json.Obj j = json.asObject();
      return new Needed(ComponentKey.of(j.text("component")), j.texts("parts"));
    }
  }

  public ObjectName name() {
    return ObjectName.of(key);
  }

  /** "the view fares.tariff". */
  public String shown() {
    return "the " + sort.word() + " " + key.name();
  }

  /** The same with other needs. */
  public SchemaObject needing(List<Needed> other, List<String> others) {
    return new SchemaObject(key, sort, shape, parts, body, comment, other, others);
  }

  /**
   * The same with the names of afterwards: of the table that it works on, and of those that it
   * needs. What else is SQL by nature stays as the server printed it, which says the new names in
   * words of its own once they are given.
   */
  public SchemaObject renamed(Renaming names) {
    if (names.isEmpty()) {
      return this;
    }
    ComponentKey is = names.named(key);
    return new SchemaObject(
        is,
        sort,
        shape,
        sort == Sort.GRANT
            ? GrantedRights.renamed(
                parts, names.columns(Objects.requireNonNull(ObjectName.of(is).on())))
            : parts,
        sort == Sort.TRIGGER && !is.equals(key) ? names.qualified(body) : body,
        comment,
        needs.stream().map(n -> new Needed(names.named(n.component()), n.parts())).toList(),
        extensions);
  }

  /**
   * Whether it can become the other where it stands, so that what builds on it need not go: by the
   * rules of CREATE OR REPLACE and ALTER of PostgreSQL. An enumeration that gains labels can; that
   * they are not used in the same transaction is asked elsewhere.
   */
  public boolean canBecome(SchemaObject next) {
    if (sort != next.sort) {
      return false;
    }
    return switch (sort) {
      case SEQUENCE -> true;
      case GRANT -> shape.equals(next.shape);
      // dropped and added where it stands, an attribute would lose its values
      case VIEW, COMPOSITE -> startsWith(next.shape, shape);
      case FUNCTION, PROCEDURE, DOMAIN -> shape.equals(next.shape);
      case ENUM -> holdsInOrder(next.shape, shape);
      case AGGREGATE, MATERIALIZED_VIEW, RANGE, TRIGGER ->
          shape.equals(next.shape) && body.equals(next.body);
      case POLICY -> shape.equals(next.shape) && body.equals(next.body) && parts.equals(next.parts);
    };
  }

  /** A type as a shape has it, without its collation. */
  public static String withoutCollation(String type) {
    int collated = type.indexOf(" COLLATE ");
    return collated < 0 ? type : type.substring(0, collated);
  }

  /**
   * Attributes of a composite type in their order: from the name, quoted where it must be, to the
   * type with its collation.
   */
  public Map<String, String> attributes() {
    Map<String, String> out = new LinkedHashMap<>();
    for (String attribute : shape) {
      int at = attribute.indexOf(' ');
      if (attribute.startsWith("\"")) {
        at = 1;
        while (attribute.charAt(at) != '"' || attribute.startsWith("\"\"", at)) {
          at += attribute.charAt(at) == '"' ? 2 : 1;
        }
        at++;
      }
      out.put(attribute.substring(0, at), attribute.substring(at + 1));
    }
    return out;
  }

  private static boolean startsWith(List<String> all, List<String> first) {
    return all.size() >= first.size() && all.subList(0, first.size()).equals(first);
  }

  /** Whether all of the fewer are among the more, in the same order. */
  private static boolean holdsInOrder(List<String> more, List<String> fewer) {
    int at = 0;
    for (String one : more) {
      if (at < fewer.size() && one.equals(fewer.get(at))) {
        at++;
      }
    }
    return at == fewer.size();
  }

  public Json.Obj toJson() {
    Map<String, Json> named = new TreeMap<>();
    parts.forEach((name, value) -> named.put(name, new Json.Str(value)));
    return Json.object(
        "format",
        1,
        "kind",
        key.kind().code(),
        "name",
        key.name(),
        "sort",
        sort.word(),
        "shape",
        shape,
        "parts",
        Json.object(named),
        "body",
        body,
        "comment",
        comment,
        "needs",
        new Json.Arr(needs.stream().map(Needed::toJson).toList()),
        "extensions",
        extensions);
  }

  /** The content that digests are taken of. */
  public byte[] canonical() {
    return toJson().canonical().getBytes(StandardCharsets.UTF_8);
  }

  public Digest digest() {
    return ContentDigest.of(key.kind(), canonical());
  }

  /**
   * Reads what {@link #canonical()} wrote.
   *
   * @throws IllegalArgumentException when it is no such document, or one of another component
   */
  public static SchemaObject of(ComponentKey key, Json json) {
    Json.Obj j = json.asObject();
    if (!(j.find("format") instanceof Json.Num format) || format.value() != 1) {
      throw new IllegalArgumentException("The document of " + key + " is not of format 1");
    }
    if (!key.kind().code().equals(j.findText("kind")) || !key.name().equals(j.findText("name"))) {
      throw new IllegalArgumentException(
          "The document of " + key + " names another kind or name in itself");
    }
    ObjectName.of(key);
    SortedMap<String, String> parts = new TreeMap<>();
    if (j.find("parts") instanceof Json.Obj named) {
      named.members().keySet().forEach(name -> parts.put(name, named.text(name)));
    }
    return new SchemaObject(
        key,
        Sort.of(j.text("sort")),
        j.texts("shape"),
        parts,
        Objects.requireNonNullElse(j.findText("body"), ""),
        j.findText("comment"),
        j.list("needs").stream().map(Needed::of).toList(),
        j.texts("extensions"));
  }

  public static SchemaObject of(ComponentKey key, byte[] canonical) {
    return of(key, Json.parse(new String(canonical, StandardCharsets.UTF_8)));
  }

  /** As people read it: what is SQL by nature, then everything else a line each. */
  public String text() {
    StringBuilder out = new StringBuilder();
    if (!body.isEmpty()) {
      out.append(body.strip()).append('\n');
    }
    if (body.isEmpty() || sort == Sort.VIEW || sort == Sort.MATERIALIZED_VIEW) {
      shape.forEach(s -> out.append(said()).append(s).append('\n'));
    }
    parts.forEach((name, value) -> out.append(name).append(": ").append(value).append('\n'));
    if (comment != null) {
      out.append("comment: ").append(comment).append('\n');
    }
    return out.toString();
  }

  private String said() {
    return switch (sort) {
      case VIEW, MATERIALIZED_VIEW -> "column: ";
      case ENUM -> "label: ";
      case COMPOSITE -> "attribute: ";
      case DOMAIN, RANGE -> "of: ";
      case GRANT -> "on: ";
      default -> "";
    };
  }
}
