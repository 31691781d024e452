package plenzo.engine.setup;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Collection;
import java.util.HashMap;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Exchanges;
import plenzo.core.table.Numbered;
import plenzo.core.table.Renaming;
import plenzo.core.target.TablesLooking;
import plenzo.core.version.SemVer;
import plenzo.engine.Tools;

/**
 * The server's own numbers of a site's tables and columns, as they were when a version was recorded
 * there. Of names that change places they tell which of them is which, whoever changed them.
 */
public final class SiteNumbers {
  private final Tools tools;

  public SiteNumbers(Tools tools) {
    this.tools = tools;
  }

  private static String name(String application, SiteKey site) {
    return "numbers/" + application + "/" + site;
  }

  /** Remembers tables by the names that they have now, which are those of a version. */
  public void remember(
      String application,
      SiteKey site,
      SemVer version,
      SiteLook look,
      Collection<TableName> tables) {
    if (look.findTables().isEmpty()) {
      return;
    }
    TablesLooking looking = look.tables();
    Map<String, Json> out = new TreeMap<>();
    for (TableName table : tables) {
      numbered(looking, table)
          .ifPresent(
              n ->
                  out.put(
                      table.toString(),
                      Json.object("number", n.table(), "columns", columns(n.columns()))));
    }
    byte[] text =
        Json.object(
                "version", version.text(), "server", looking.instance(), "tables", Json.object(out))
            .canonical()
            .getBytes(StandardCharsets.UTF_8);
    tools.files().write(name(application, site), to -> to.write(text));
  }

  private static Json columns(Map<String, Integer> numbers) {
    Map<String, Json> out = new TreeMap<>();
    numbers.forEach((column, n) -> out.put(column, Json.of(n.longValue())));
    return Json.object(out);
  }

  private static Optional<Numbered> numbered(TablesLooking looking, TableName table) {
    return looking.table(table).map(t -> new Numbered(t.objectId(), t.attributes()));
  }

  /** Whether tables were remembered with a version. */
  public boolean has(String application, SiteKey site, SemVer version) {
    return read(application, site).filter(k -> k.version().equals(version)).isPresent();
  }

  /**
   * Tells of names that change places whether they did.
   *
   * @param from the version by whose names one asks
   * @param names what has other names in one version than in another; empty where that is not known
   */
  public Exchanges exchanges(
      String application,
      SiteKey site,
      SemVer from,
      TablesLooking looking,
      BiFunction<SemVer, SemVer, Optional<Renaming>> names) {
    return read(application, site)
        .filter(k -> k.server().equals(looking.instance()))
        .flatMap(k -> names.apply(k.version(), from).map(k::by))
        .map(
            before ->
                Exchanges.byNumbers(
                    t -> Optional.ofNullable(before.get(t)), t -> numbered(looking, t)))
        .orElse(Exchanges.all(Exchanges.Progress.NOT_KNOWN));
  }

  /**
   * @param server where the numbers mean something
   */
  private record Kept(SemVer version, String server, Map<TableName, Numbered> tables) {
    Map<TableName, Numbered> by(Renaming names) {
      Map<TableName, Numbered> out = new HashMap<>();
      tables.forEach(
          (table, n) -> {
            TableName is = names.named(table);
            out.put(is, n.named(names.columns(is)));
          });
      return out;
    }
  }

  private Optional<Kept> read(String application, SiteKey site) {
    String name = name(application, site);
    if (!tools.files().exists(name)) {
      return Optional.empty();
    }
    try (InputStream in = tools.files().open(name, 0)) {
      return Optional.of(kept(new String(in.readAllBytes(), StandardCharsets.UTF_8)));
    } catch (IOException e) {
      throw new UncheckedIOException(name + " cannot be read", e);
    }
  }

  private static Kept kept(String text) {
    Json.Obj all = Json.parseObject(text);
    Map<TableName, Numbered> tables = new HashMap<>();
    members(all, "tables")
        .forEach(
            (table, one) -> {
              Map<String, Integer> columns = new HashMap<>();
              members(one.asObject(), "columns")
                  .forEach((c, n) -> columns.put(c, Math.toIntExact(number(n))));
              long number = number(one.asObject().members().get("number"));
              tables.put(TableName.of(table), new Numbered(number, columns));
            });
    return new Kept(new SemVer(all.text("version")), all.text("server"), tables);
  }

  private static Map<String, Json> members(Json.Obj of, String name) {
    return Objects.requireNonNull(of.find(name)).asObject().members();
  }

  private static long number(@Nullable Json value) {
    return ((Json.Num) Objects.requireNonNull(value)).value();
  }
}
