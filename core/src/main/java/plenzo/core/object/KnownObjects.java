package plenzo.core.object;

import java.util.Collection;
import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.inventory.NamedThings;
import plenzo.core.table.NeededSequences;
import plenzo.core.table.TableStructure;

/**
 * Finds the components that a text of SQL names, among those that are known. What the server knows
 * of a schema object stands in its needs; this is for tables, whose expressions are printed with
 * the schema of each name, and for bodies that the server does not look into.
 */
public final class KnownObjects {
  /** A word behind one of these is a relation, behind CALL or PERFORM a routine. */
  private static final Pattern NAMES =
      Pattern.compile(
          "(?i)\\b(?:from|join|into|update|table|only|call|perform|truncate)\\s+(?:only\\s+)?(\"(?:[^\"]|\"\")+\"|[\\p{L}_][\\p{L}\\p{N}_$]*)(?!\\s*\\.|[\\p{L}\\p{N}_$])");

  private final Map<NamedThings.Name, Set<ComponentKey>> byName = new HashMap<>();

  public KnownObjects(Collection<ComponentKey> keys) {
    for (ComponentKey key : keys) {
      if (key.kind() == Kind.TABLE) {
        TableName table = TableName.of(key.name());
        put(table.schema(), table.table(), key);
      } else if (key.kind().schemaObject() && !key.kind().worksOnOne()) {
        ObjectName name = ObjectName.of(key);
        put(name.schema(), name.name(), key);
      }
    }
  }

  private void put(String schema, String name, ComponentKey key) {
    byName.computeIfAbsent(new NamedThings.Name(schema, name), n -> new TreeSet<>()).add(key);
  }

  /** Components of that name: of routines all that have it, whatever their arguments. */
  public Set<ComponentKey> named(NamedThings.Name name) {
    return byName.getOrDefault(name, Set.of());
  }

  /**
   * What parts of a table need.
   *
   * @param each told the part, such as {@code column/kind}, and what it needs
   */
  public void needs(TableStructure table, String schema, BiConsumer<String, ComponentKey> each) {
    NamedThings.of(table)
        .byPart()
        .forEach(
            (part, names) ->
                names.stream()
                    .flatMap(n -> named(n).stream())
                    .filter(k -> k.kind() != Kind.TABLE)
                    .forEach(k -> each.accept(part, k)));
    NeededSequences.of(table)
        .byColumn()
        .forEach(
            (column, sequence) ->
                sequence(schema, sequence).forEach(k -> each.accept("column/" + column, k)));
  }

  private Set<ComponentKey> sequence(String schema, String written) {
    int dot = written.indexOf('.');
    NamedThings.Name name =
        dot < 0
            ? new NamedThings.Name(schema, written)
            : new NamedThings.Name(written.substring(0, dot), written.substring(dot + 1));
    Set<ComponentKey> out = new TreeSet<>(named(name));
    out.removeIf(k -> k.kind() != Kind.SEQUENCE);
    return out;
  }

  /**
   * What the body of a routine seems to need: names with their schema anywhere, and names without
   * one where a relation or routine stands. The server looks into such a body only when it runs.
   */
  public Set<ComponentKey> inBody(SchemaObject routine) {
    Set<ComponentKey> out = new TreeSet<>();
    if (routine.key().kind() != Kind.ROUTINE) {
      return out;
    }
    String body = unquoted(routine.body());
    NamedThings.in(body).forEach(n -> out.addAll(named(n)));
    Matcher m = NAMES.matcher(body);
    while (m.find()) {
      String word = m.group(1);
      String name =
          word.startsWith("\"")
              ? word.substring(1, word.length() - 1).replace("\"\"", "\"")
              : word.toLowerCase(java.util.Locale.ROOT);
      out.addAll(named(new NamedThings.Name(routine.name().schema(), name)));
    }
    out.remove(routine.key());
    return out;
  }

  /** Without the signs that make a body one text, so that what it says is read. */
  private static String unquoted(String body) {
    return body.replaceAll("\\$[\\p{L}_]*[\\p{L}\\p{N}_]*\\$", " ").replaceAll("--[^\n]*", " ");
  }
}
