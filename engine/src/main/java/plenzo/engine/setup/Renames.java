package plenzo.engine.setup;

import static java.util.stream.Collectors.toSet;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.keeping.Kept;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Numbered;
import plenzo.core.table.Renaming;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.version.LikelyRename;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.content.VersionNames;

/**
 * Whether a table or column was renamed: object ids of a server are remembered when its tables are
 * recorded, so that a rename is told from a drop and an add.
 */
public final class Renames {
  private final Tools tools;
  private final Targets targets;
  private final VersionNames names;

  public Renames(Tools tools, Targets targets, Contents contents) {
    this.tools = tools;
    this.targets = targets;
    this.names = VersionNames.ofSealed(tools, contents);
  }

  /** A version of an application. */
  public record Of(String application, SemVer version) {
    @Override
    public String toString() {
      return application + "@" + version;
    }
  }

  /** Remembers the tables as they are now; to be called when they are recorded as a version. */
  public void remember(Of version, TablesLooking looking, List<TableName> tables) {
    String instance = looking.instance();
    List<Kept.Capture> now = new ArrayList<>();
    for (TableName table : tables) {
      looking
          .table(table)
          .ifPresent(
              t ->
                  now.add(
                      new Kept.Capture(
                          instance + "|" + table,
                          t.objectId(),
                          t.attributes(),
                          version.toString(),
                          0)));
    }
    tools
        .keeper()
        .write(
            kept -> {
              // a table has one name: what it was called before tells nothing any more
              Set<Long> numbers = now.stream().map(Kept.Capture::objectId).collect(toSet());
              kept.captures().all().stream()
                  .filter(x -> numbers.contains(x.objectId()))
                  .filter(x -> x.id().startsWith(instance + "|"))
                  .forEach(x -> kept.captures().remove(x.id()));
              for (Kept.Capture c : now) {
                kept.captures().remove(c.id());
                kept.captures().insert(c);
              }
              return null;
            });
  }

  /**
   * Remembers those of a version that is matched with a place, as far as the place has their
   * columns by the same names: what is remembered of others stays, as they have moved on since, or
   * before anybody looked.
   *
   * @param columns of each table, as the version has them
   */
  public void rememberAlike(
      Of version, TablesLooking looking, Map<TableName, Set<String>> columns) {
    Known known = at(version, looking);
    remember(
        version,
        looking,
        columns.keySet().stream()
            .filter(t -> !known.tells(t))
            .filter(
                t ->
                    looking
                        .table(t)
                        .filter(is -> is.attributes().keySet().containsAll(columns.get(t)))
                        .isPresent())
            .toList());
  }

  /**
   * The same at the source of every path through a stage, because renames are made there; a source
   * that cannot be looked at is skipped, and asked about later.
   */
  public void rememberSources(Of version, String stage, Map<TableName, Set<String>> columns) {
    List<String> sources =
        tools.keeper().read(kept -> kept.paths().all()).stream()
            .filter(p -> p.leg(stage).isPresent())
            .map(p -> p.source())
            .filter(Objects::nonNull)
            .distinct()
            .toList();
    for (String source : sources) {
      for (SiteKey site : sites(source)) {
        try (SiteLook look = targets.look(site)) {
          look.findTables().ifPresent(t -> rememberAlike(version, t, columns));
        } catch (RuntimeException e) {
          System.getLogger(Renames.class.getName())
              .log(System.Logger.Level.INFO, "Tables of {0} are not remembered: {1}", site, e);
        }
      }
    }
  }

  private List<SiteKey> sites(String stage) {
    return tools.keeper().read(kept -> kept.stages().find(stage)).stream()
        .flatMap(s -> s.sites().stream().map(x -> new SiteKey(stage, x.key())))
        .toList();
  }

  /**
   * What was remembered of the tables of one place, read once.
   *
   * @param version by whose names it is told, whichever they were remembered by
   */
  public Known at(Of version, TablesLooking looking) {
    String prefix = looking.instance() + "|";
    Map<TableName, Numbered> before = new HashMap<>();
    Map<String, Optional<Renaming>> since = new HashMap<>();
    tools.keeper().read(kept -> kept.captures().all()).stream()
        .filter(c -> c.id().startsWith(prefix))
        .forEach(
            c ->
                since
                    .computeIfAbsent(String.valueOf(c.version()), x -> since(c.version(), version))
                    .ifPresent(
                        renaming -> {
                          TableName table = TableName.of(c.id().substring(prefix.length()));
                          TableName is = renaming.named(table);
                          before.put(
                              is,
                              new Numbered(c.objectId(), c.attributes())
                                  .named(renaming.columns(is)));
                        }));
    return new Known(looking, before);
  }

  /** Empty where nothing tells: of another application, or of a version that is not known. */
  private Optional<Renaming> since(@Nullable String of, Of version) {
    if (of == null) {
      return Optional.of(Renaming.NONE); // an earlier Plenzo remembered the newest alone
    }
    String application = version.application() + "@";
    return of.startsWith(application)
        ? names.find(
            version.application(),
            new SemVer(of.substring(application.length())),
            version.version())
        : Optional.empty();
  }

  /** Tables of one place as they were remembered, and as they are. */
  public static final class Known {
    private final TablesLooking looking;
    private final Map<TableName, Numbered> before;

    private Known(TablesLooking looking, Map<TableName, Numbered> before) {
      this.looking = looking;
      this.before = before;
    }

    /**
     * Whether the server's own numbers tell a rename of its columns: the table was remembered, and
     * is still the same one. A table that was made anew has another number.
     *
     * @param was the table's name when it was remembered
     * @param is its name now
     */
    public boolean tellsColumns(TableName was, TableName is) {
      return twice(was, is).isPresent();
    }

    /** Whether the server's own numbers tell whether a table that is gone got another name. */
    public boolean tells(TableName table) {
      return before.containsKey(table);
    }

    /** One table as it was remembered and as it is. */
    private record Twice(Numbered before, TableCapture now) {}

    private Optional<Twice> twice(TableName was, TableName is) {
      return Optional.ofNullable(before.get(was))
          .flatMap(b -> looking.table(is).map(now -> new Twice(b, now)))
          .filter(t -> t.now().objectId() == t.before().table());
    }

    /**
     * Tables of a version that have another name there, as the server's own numbers tell, or as a
     * person said; with those that go because another takes their name.
     *
     * @param said what people said of tables of a draft
     */
    public Renaming tables(Version version, List<LikelyRename> said) {
      Predicate<TableName> had =
          t -> version.entry(new ComponentKey(Kind.TABLE, t.componentName())).isPresent();
      Renaming all =
          new Renaming(named(version, said), Map.of()).leaving(had, (t, column) -> false);
      return new Renaming(Renaming.atHand(all.tables(), had, c -> true), Map.of());
    }

    /** Names, with what is new there under one that was given up. */
    public Renaming taking(Renaming names) {
      return names.taking(
          t -> looking.table(t).isPresent(),
          (t, c) -> looking.table(t).flatMap(is -> is.structure().column(c)).isPresent());
    }

    private Map<TableName, TableName> named(Version version, List<LikelyRename> said) {
      Map<TableName, TableName> out = new LinkedHashMap<>();
      Map<Long, TableName> there = new HashMap<>();
      version.tables().stream()
          .map(TableName::schema)
          .distinct()
          .forEach(schema -> there.putAll(numbers(schema)));
      for (VersionEntry e : version.entries()) {
        TableName table = e.key().kind() == Kind.TABLE ? TableName.of(e.key().name()) : null;
        if (table == null || isStill(table) && !isSaid(said, e.key(), table)) {
          continue;
        }
        Optional.ofNullable(before.get(table))
            .map(b -> there.get(b.table()))
            .map(now -> new LikelyRename(e.key(), now).same())
            .filter(pair -> !pair.was().equals(pair.is()))
            .filter(pair -> said.stream().noneMatch(s -> s.denied() && s.samePair(pair)))
            .or(() -> said.stream().filter(s -> isSaidOf(s, e.key())).findFirst())
            .map(pair -> TableName.of(pair.component().name()))
            .filter(now -> there.containsValue(now) && !out.containsValue(now))
            .ifPresent(now -> out.put(table, now));
      }
      return out;
    }

    /** Whether a person said what became of it, where no number tells. */
    private boolean isSaid(List<LikelyRename> said, ComponentKey key, TableName table) {
      return !before.containsKey(table) && said.stream().anyMatch(s -> isSaidOf(s, key));
    }

    /** Whether the server's own numbers say that a name is that of the table that had it. */
    public boolean isKnownStill(TableName table) {
      return before.containsKey(table) && isStill(table);
    }

    private static boolean isSaidOf(LikelyRename said, ComponentKey table) {
      return said.isOne() && said.ofTable() && said.was().equals(table.toString());
    }

    /** Whether a name still is that of the table that had it: another one may have taken it. */
    private boolean isStill(TableName table) {
      Optional<TableCapture> now = looking.table(table);
      Numbered was = before.get(table);
      return now.isPresent() && (was == null || was.table() == now.get().objectId());
    }

    private Map<Long, TableName> numbers(String schema) {
      Map<Long, TableName> out = new HashMap<>();
      looking
          .tables(schema)
          .forEach(t -> looking.table(t).ifPresent(is -> out.put(is.objectId(), t)));
      return out;
    }

    /**
     * Columns that have another name now, old to new.
     *
     * @param was the table's name when it was remembered
     * @param is its name now
     */
    public Map<String, String> columns(TableName was, TableName is) {
      Map<String, String> out = new TreeMap<>();
      Twice t = twice(was, is).orElse(null);
      if (t == null) {
        return out;
      }
      Map<Integer, String> names = new HashMap<>();
      t.now().attributes().forEach((name, number) -> names.put(number, name));
      t.before()
          .columns()
          .forEach(
              (old, number) -> {
                String name = names.get(number);
                if (name != null && !name.equals(old)) {
                  out.put(old, name);
                }
              });
      return out;
    }
  }
}
