package plenzo.engine.sealing;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.item.Definition;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.object.KnownObjects;
import plenzo.core.object.SchemaObject;
import plenzo.core.problem.Problem;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Constraint;
import plenzo.core.table.Renaming;
import plenzo.core.target.TableCapture;
import plenzo.core.version.Draft;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.RowKeys;
import plenzo.engine.setup.SiteLook;

/**
 * Takes components of one site into a draft together with what they need, across kinds and targets,
 * each with its reason.
 */
final class Closure {
  static final String CHOSEN = "chosen";

  private final Sources sources;
  private final SiteLook look;
  private final SiteKey site;
  private final Version parent;
  private final Renaming names;
  private final String space;
  private final List<String> schemas;
  private final Map<ComponentKey, ItemSeen> items;
  private final Map<ComponentKey, Draft.Pick> picks;
  private @Nullable KnownObjects objects;

  /**
   * @param parent the version drafted from, by the names that tables and columns have at the site
   * @param names from those of the version to those at the site
   * @param picks what is picked so far; it is added to
   */
  Closure(
      Sources sources,
      SiteLook look,
      SiteKey site,
      Version parent,
      Renaming names,
      String space,
      Map<ComponentKey, Draft.Pick> picks) {
    this.sources = sources;
    this.look = look;
    this.site = site;
    this.parent = parent;
    this.names = names;
    this.space = space;
    this.items = look.itemsAndGrants(space);
    this.schemas = look.findTables().map(t -> t.schemas(space)).orElse(List.of());
    this.picks = picks;
  }

  void pick(Adoption.Pick asked, String reason) {
    ComponentKey key = asked.key();
    if (key.kind().whole()) {
      whole(key, reason);
      return;
    }
    TableName table = TableName.of(key.name());
    TableCapture capture =
        look.tables()
            .table(table)
            .orElseThrow(() -> Problem.notFound("table at " + site, table.toString()));
    if (!capture.refusals().isEmpty()) {
      throw cannotCarry(key, String.join("; ", capture.refusals()));
    }
    String options = null;
    if (key.kind() == Kind.RECORDS) {
      RecordsDefinition before = parent.entry(key).map(VersionEntry::records).orElse(null);
      RecordsDefinition named = asked.records();
      RecordsDefinition records =
          named != null
              ? before == null ? named : named.with(before.policy())
              : before != null
                  ? before
                  : new RecordsDefinition(table, keyOrRefuse(capture, asked), null);
      records = asked.under(records);
      options = records.toJson().canonical();
    }
    put(key, options, reason);
    if (key.kind() == Kind.RECORDS) {
      need(new ComponentKey(Kind.TABLE, key.name()), "needed by " + key);
      return;
    }
    for (Constraint k : capture.structure().foreignKeys()) {
      TableName other = Objects.requireNonNull(k.references());
      if (!other.equals(table) && schemas.contains(other.schema())) {
        need(new ComponentKey(Kind.TABLE, other.componentName()), "needed by " + key);
      }
    }
    for (TableName parent : capture.structure().inherits()) {
      need(new ComponentKey(Kind.TABLE, parent.componentName()), key + " inherits from it");
    }
    inheriting(key, table);
    rowsByOtherColumns(key, capture);
    if (names.isRenamed(table)) {
      namedBefore(key);
    }
    Set<ComponentKey> named = new TreeSet<>();
    known().needs(capture.structure(), table.schema(), (part, needed) -> named.add(needed));
    named.forEach(needed -> need(needed, "needed by " + key));
    items.keySet().stream()
        .filter(k -> k.kind() == Kind.TRIGGER || k.kind() == Kind.POLICY)
        .filter(k -> table.equals(ObjectName.of(k).on()))
        .forEach(k -> need(k, "works on " + key));
  }

  /** What the version carries and inherits from a table changes with it. */
  private void inheriting(ComponentKey key, TableName table) {
    for (VersionEntry e : parent.entries()) {
      if (e.key().kind() == Kind.TABLE && sources.structure(e).inherits().contains(table)) {
        need(e.key(), "inherits from " + key);
      }
    }
  }

  /** What the version carries and names a table in words of its own, by the name of before. */
  private void namedBefore(ComponentKey table) {
    String reason =
        "names "
            + names.before(TableName.of(table.name()))
            + ", which is "
            + table.name()
            + " by now";
    for (SchemaObject o : look.tables().objects(space)) {
      if (parent.entry(o.key()).isPresent()
          && o.needs().stream().anyMatch(n -> n.component().equals(table))) {
        need(o.key(), reason);
      }
    }
    for (VersionEntry e : parent.entries()) {
      if (e.key().kind().definition()
          && items.containsKey(e.key())
          && references(e.key()).stream().anyMatch(r -> r.component().equals(table))) {
        need(e.key(), reason);
      }
    }
  }

  /** Rows that the version carries stand in it by columns that the table has no more. */
  private void rowsByOtherColumns(ComponentKey table, TableCapture capture) {
    ComponentKey records = new ComponentKey(Kind.RECORDS, table.name());
    VersionEntry before = parent.entry(table).orElse(null);
    if (before != null
        && parent.entry(records).isPresent()
        && (!names.columns(capture.table()).isEmpty()
            || sources.structure(before).columns().stream()
                .anyMatch(c -> capture.structure().column(c.name()).isEmpty()))) {
      need(records, "its rows stand in the columns of " + table);
    }
  }

  private KnownObjects known() {
    KnownObjects all = objects;
    if (all == null) {
      all = new KnownObjects(items.keySet());
      objects = all;
    }
    return all;
  }

  private static Problem cannotCarry(ComponentKey key, String why) {
    return Problem.stopped(
        "CANNOT_CARRY", key + " cannot be carried: " + why + ".", "Leave it out");
  }

  private void put(ComponentKey key, @Nullable String options, String reason) {
    Draft.Pick old = picks.get(key);
    if (old != null && !reason.equals(CHOSEN)) {
      return;
    }
    String uid =
        parent
            .entry(key)
            .map(VersionEntry::uid)
            .orElseGet(
                () -> old != null ? old.uid() : sources.newUid(parent.application(), site, key));
    picks.put(
        key, new Draft.Pick(key, uid, site.stage(), site.site(), options, reason, null, 0, ""));
  }

  private void whole(ComponentKey key, String reason) {
    ItemSeen seen =
        Optional.ofNullable(items.get(key))
            .orElseThrow(() -> Problem.notFound("component at " + site, key.toString()));
    if (!seen.refusal().isEmpty()) {
      throw cannotCarry(key, seen.refusal());
    }
    put(key, null, reason);
    if (key.kind().schemaObject()) {
      SchemaObject object = look.tables().object(key);
      object.needs().forEach(n -> need(n.component(), "needed by " + key));
      known().inBody(object).forEach(k -> need(k, "named in the body of " + key));
      ownTriggers(key);
    }
    if (key.kind().definition()) {
      for (Definition.Reference r : references(key)) {
        need(r.component(), key + " " + r.how() + " it");
        if (r.component().kind() == Kind.TABLE && holdsRecords(r.component())) {
          need(new ComponentKey(Kind.RECORDS, r.component().name()), key + " " + r.how() + " it");
        }
      }
    }
  }

  /** Triggers on a view. */
  private void ownTriggers(ComponentKey view) {
    if (view.kind() == Kind.VIEW) {
      items.keySet().stream()
          .filter(k -> k.kind() == Kind.TRIGGER)
          .filter(
              k -> {
                TableName on = ObjectName.of(k).on();
                return on != null && on.componentName().equals(view.name());
              })
          .forEach(k -> need(k, "works on " + view));
    }
  }

  /** Rows that the application carries belong to a table that a definition reads. */
  private boolean holdsRecords(ComponentKey table) {
    return parent.entry(new ComponentKey(Kind.RECORDS, table.name())).isPresent();
  }

  private List<Definition.Reference> references(ComponentKey key) {
    try (InputStream in = look.read(key)) {
      String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      return Definition.of(key, Json.parse(text)).references();
    } catch (IOException e) {
      throw new UncheckedIOException(key + " cannot be read at " + site, e);
    } catch (IllegalArgumentException e) {
      throw cannotCarry(key, String.valueOf(e.getMessage()));
    }
  }

  private static List<String> keyOrRefuse(TableCapture capture, Adoption.Pick asked) {
    List<String> key = RowKeys.proposed(capture.structure());
    if (key.isEmpty()) {
      throw Problem.stopped(
          "NO_KEY",
          "The rows of "
              + capture.table()
              + " cannot be records: "
              + RowKeys.problem(capture.structure(), key)
              + ".",
          "Name key columns");
    }
    Adoption.requireTelling(capture, key, asked);
    return key;
  }

  /** Pulls in what is needed unless the version drafted from has it just so. */
  private void need(ComponentKey key, String reason) {
    if (picks.containsKey(key) || !look.holds(key.kind())) {
      return;
    }
    VersionEntry entry = parent.entry(key).orElse(null);
    if (key.kind().whole()) {
      ItemSeen seen = items.get(key);
      if (seen != null && (entry == null || !entry.content().equals(seen.content()))) {
        whole(key, reason);
      }
      return;
    }
    TableName table = TableName.of(key.name());
    TableCapture capture = look.tables().table(table).orElse(null);
    if (capture == null
        || (entry != null
            && !names.touches(table)
            && sources.changes(look.tables(), key, entry, capture, names).isEmpty())) {
      return;
    }
    pick(new Adoption.Pick(key, null, false), reason);
  }
}
