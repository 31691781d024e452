package plenzo.core.object;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import plenzo.core.component.ComponentKey;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.object.SchemaObject.Sort;

/** Schema objects as tests need them. */
public final class SomeObjects {
  private SomeObjects() {}

  /** Something that needs others: {@code table/fares.band#column/code} is a part of a table. */
  public static SchemaObject object(String key, Sort sort, String body, String... needs) {
    return new SchemaObject(
        ComponentKey.of(key),
        sort,
        List.of(),
        new TreeMap<>(),
        body,
        null,
        Arrays.stream(needs).map(SomeObjects::needed).toList(),
        List.of());
  }

  private static Needed needed(String text) {
    int at = text.indexOf('#');
    return at < 0
        ? new Needed(ComponentKey.of(text), List.of())
        : new Needed(ComponentKey.of(text.substring(0, at)), List.of(text.substring(at + 1)));
  }

  public static SchemaObject view(String name, String body, String... needs) {
    return object("view/" + name, Sort.VIEW, body, needs);
  }

  public static SchemaObject labels(String name, String... labels) {
    return shaped("type/" + name, Sort.ENUM, Map.of(), labels);
  }

  public static SchemaObject shaped(
      String key, Sort sort, Map<String, String> parts, String... shape) {
    return new SchemaObject(
        ComponentKey.of(key),
        sort,
        List.of(shape),
        new TreeMap<>(parts),
        "",
        null,
        List.of(),
        List.of());
  }
}
