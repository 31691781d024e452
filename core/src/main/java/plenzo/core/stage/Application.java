package plenzo.core.stage;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.probe.Probe;
import plenzo.core.source.Repository;

/**
 * What is versioned and promoted as a unit.
 *
 * @param id permanent, never changes
 * @param key technical name
 * @param description what it is for, in a sentence or two
 * @param support who is called about it at each stage, by the stage's key
 * @param schema name space of what belongs to it: database schema, first folder of files, text
 *     before the first dot of a definition's name
 * @param furtherSchemas schemas of the database that belong to it beside the one called like its
 *     name space
 * @param repository where its component documents are kept, null when they are in none
 * @param paths keys of the paths that its versions may travel, the ordinary one first
 * @param privateColumns columns ({@code schema.table.column}) whose values are never shown: only
 *     that they differ
 * @param retired when and why it was taken out of use; null while it is in use
 */
public record Application(
    String id,
    String key,
    String name,
    String owner,
    String description,
    Map<String, String> support,
    String schema,
    @Nullable List<String> furtherSchemas,
    List<String> paths,
    List<String> privateColumns,
    List<Probe> probes,
    @Nullable Repository repository,
    @Nullable Retired retired,
    int revision) {
  /** Who took it out of use for good, when and why. */
  public record Retired(String by, Instant at, String reason) {}

  public Application {
    probes = List.copyOf(probes);
    if (probes.stream().map(Probe::name).distinct().count() < probes.size()) {
      throw new IllegalArgumentException("Each question has a name of its own");
    }
    // records of before had the one schema
    furtherSchemas = furtherSchemas == null ? List.of() : List.copyOf(furtherSchemas);
    for (String further : furtherSchemas) {
      if (further.isBlank()
          || further.equals(schema)
          || further.equals("plenzo")
          || further.equals("information_schema")
          || further.startsWith("pg_")) {
        throw new IllegalArgumentException(
            "\""
                + further
                + "\" is no further schema of "
                + key
                + ": it is taken, or the server's");
      }
    }
    paths = List.copyOf(paths);
    if (paths.isEmpty() || paths.stream().distinct().count() < paths.size()) {
      throw new IllegalArgumentException("An application has one or more paths, each once");
    }
    support = new TreeMap<>(support);
    if (description.length() > 2000) {
      throw new IllegalArgumentException("A description has at most 2,000 characters");
    }
    privateColumns = List.copyOf(privateColumns);
    for (String column : privateColumns) {
      if (column.split("\\.").length < 3) {
        throw new IllegalArgumentException(
            "A private column is written schema.table.column; got \"" + column + "\"");
      }
    }
    if (!key.matches("[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "An application's key is lower-case letters, digits and hyphens; got \"" + key + "\"");
    }
  }

  /** A newly registered one: no description yet, nothing private, nothing asked, no repository. */
  public static Application registered(
      String id, String key, String name, String owner, String schema, String path) {
    return new Application(
        id,
        key,
        name,
        owner,
        "",
        Map.of(),
        schema,
        List.of(),
        List.of(path),
        List.of(),
        List.of(),
        null,
        null,
        0);
  }

  @Override
  public List<String> furtherSchemas() {
    return furtherSchemas == null ? List.of() : furtherSchemas;
  }

  /** Every schema of the database that belongs to it. */
  public List<String> schemas() {
    return Stream.concat(Stream.of(schema), furtherSchemas().stream()).toList();
  }

  /** Key of the path that versions travel where nothing else is said. */
  public String path() {
    return paths.get(0);
  }

  /** Whether a component's name lies in this application's name space. */
  public boolean owns(ComponentKey key) {
    return key.name().startsWith(schema + (key.kind() == Kind.FILE ? "/" : "."))
        || key.kind().holder() == Kind.Holder.DATABASE
            && furtherSchemas().stream().anyMatch(further -> key.name().startsWith(further + "."));
  }

  /** The same with its documents elsewhere. */
  public Application at(@Nullable Repository next) {
    return new Application(
        id,
        key,
        name,
        owner,
        description,
        support,
        schema,
        furtherSchemas,
        paths,
        privateColumns,
        probes,
        next,
        retired,
        revision);
  }

  /** The same, out of use. */
  public Application retired(Retired how) {
    return new Application(
        id,
        key,
        name,
        owner,
        description,
        support,
        schema,
        furtherSchemas,
        paths,
        privateColumns,
        probes,
        repository,
        how,
        revision);
  }
}
