package plenzo.engine.comparing;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.inventory.Uncarried;
import plenzo.core.item.DefinitionMerge;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RecordsComparison;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.records.RowsPolicy;
import plenzo.core.records.TwinRows;
import plenzo.core.table.Conversion;
import plenzo.core.table.Conversions;
import plenzo.core.table.PartDifference;
import plenzo.core.table.Renaming;
import plenzo.core.table.StructureComparison;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesDelta;
import plenzo.core.version.Version;
import plenzo.core.way.Obstacle;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.underway.Underway;

/** Compares what is incoming with what a site holds, at one instant, in constant memory. */
public final class Comparer {
  private static final int EXAMPLES = 5;

  private final ComparisonFiles files;
  private final Tools tools;

  public Comparer(Tools tools) {
    this.tools = tools;
    this.files = new ComparisonFiles(tools.files());
  }

  public ComparisonFiles files() {
    return files;
  }

  /**
   * Rows of a component that the last comparison of a case found the same.
   *
   * @return null where what comes is no version: of a backup the same rows are not looked up
   */
  public @Nullable SameRows same(Promotion p, int component) {
    ComponentKey key = p.components().get(component).key();
    String comparison = p.comparison();
    RowReader incoming =
        comparison == null || p.way() == Plan.Way.BACKUP || key.kind() != Kind.RECORDS
            ? null
            : version(p).rows(key);
    return incoming == null
        ? null
        : new SameRows(
            incoming,
            files.merged(
                Objects.requireNonNull(comparison),
                component,
                Arrays.stream(Difference.values()).filter(d -> d != Difference.SAME).toList()));
  }

  /** Parts of a table's structure that the last comparison of a case found the same. */
  public List<PartDifference> sameParts(Promotion p, int component) {
    ComponentResult c = p.components().get(component);
    TableStructure incoming =
        c.key().kind() != Kind.TABLE || p.comparison() == null || p.way() == Plan.Way.BACKUP
            ? null
            : version(p).structure(c.key());
    return incoming == null ? List.of() : StructureComparison.same(incoming, c.parts());
  }

  private Incoming version(Promotion p) {
    Version v = tools.keeper().read(kept -> kept.versions().get(p.application(), p.version()));
    return new VersionIncoming(new Contents(tools), v, null, Set.of());
  }

  /**
   * @param schemas all schemas of the site's database, so that references from other tables are
   *     seen
   * @param space the application's name space
   * @param decisions decided conflicts, by component or component#part
   * @param exceptions components and parts that were decided to stay as they are: no drift
   */
  public Compared compare(
      SiteLook look,
      List<String> schemas,
      String space,
      Incoming incoming,
      Map<String, Decision> decisions,
      Collection<String> exceptions) {
    Map<TableName, TableStructure> tables = new LinkedHashMap<>();
    List<Uncarried> uncarried = new ArrayList<>();
    look.findTables()
        .ifPresent(
            looking -> {
              for (String schema : schemas) {
                looking.uncarried(schema).stream()
                    .filter(u -> !uncarried.contains(u))
                    .forEach(uncarried::add);
                for (TableName table : looking.tables(schema)) {
                  looking
                      .table(table)
                      .map(TableCapture::structure)
                      .ifPresent(s -> tables.put(table, s));
                }
              }
            });
    Work work = new Work(look, incoming, decisions, Set.copyOf(exceptions), tables, tools.newId());
    List<ComponentKey> components = incoming.components();
    ItemsComparing items =
        new ItemsComparing(look, space, schemas, incoming, components, new Contents(tools));
    Underway.Progress progress = tools.underway().now();
    progress.of(components.size(), "components");
    for (ComponentKey key : components) {
      progress.at(key.toString());
      switch (key.kind()) {
        case TABLE -> work.results.add(work.structure(key));
        case RECORDS -> work.results.add(work.records(work.results.size(), key));
        case FILE, INTEGRATION, RULE, FORM, TYPE, SEQUENCE, ROUTINE, VIEW, TRIGGER, POLICY, GRANT ->
            work.item(items, key);
      }
      progress.next();
    }
    return new Compared(
        work.id,
        List.copyOf(work.results),
        work.structures,
        tables,
        look.renaming(),
        List.copyOf(uncarried),
        items.items(components),
        Map.copyOf(decisions),
        incoming.keepsWhatMoved(),
        work.structureDrift,
        work.recordsDrift,
        List.copyOf(work.examples),
        List.of(),
        files);
  }

  /** One comparison under way. */
  private final class Work {
    private final SiteLook look;
    private final Incoming incoming;
    private final Map<String, Decision> decisions;
    private final Set<String> exceptions;
    private final Map<TableName, TableStructure> tables;
    private final String id;
    private final List<ComponentResult> results = new ArrayList<>();
    private final Map<ComponentKey, StructureComparison> structures = new HashMap<>();
    private final Map<String, Map<String, Decision>> members;
    private final List<String> examples = new ArrayList<>();
    private long structureDrift;
    private long recordsDrift;

    Work(
        SiteLook look,
        Incoming incoming,
        Map<String, Decision> decisions,
        Set<String> exceptions,
        Map<TableName, TableStructure> tables,
        String id) {
      this.look = look;
      this.incoming = incoming;
      this.decisions = decisions;
      this.exceptions = exceptions;
      this.tables = tables;
      this.id = id;
      this.members = members(decisions);
    }

    ComponentResult structure(ComponentKey key) {
      TableStructure present = tables.get(TableName.of(key.name()));
      TableStructure in = incoming.structure(key);
      TableStructure base = incoming.replaces() ? present : incoming.baseStructure(key);
      if (incoming.replaces() || incoming.removesWhatBaseHas()) {
        base = StructureComparison.asBase(base, in, part -> leaves(key, in, part));
      }
      Set<String> removals =
          new TreeSet<>(
              incoming.replaces()
                  ? StructureComparison.gone(present, in)
                  : incoming.removesWhatBaseHas()
                      ? StructureComparison.gone(base, in)
                      : incoming.removals(key));
      removals.removeIf(
          part ->
              decisions.get(key + "#" + part) == Decision.KEEP
                  || incoming.replaces() && incoming.spares(key, part));
      StructureComparison c = StructureComparison.of(base, present, in, removals, decided(key));
      structures.put(key, c);
      Map<Difference, Long> counts = new HashMap<>();
      Map<String, Conversion> worked =
          TablesDelta.TableDelta.of(TableName.of(key.name()), present, c.result(), null)
              .converting(incoming.conversions().of(TableName.of(key.name())))
              .conversions();
      List<PartDifference> parts = withRenamed(key, withWorked(c.parts(), worked));
      for (PartDifference p : parts) {
        counts.merge(p.difference(), 1L, Long::sum);
        if (p.difference() != Difference.SAME && StructureComparison.has(in, p)) {
          drifted(key, p.path());
        }
      }
      if (parts.isEmpty()) {
        counts.put(Difference.SAME, 1L);
      }
      boolean renames = parts.size() > c.parts().size();
      Difference difference =
          renames && !c.difference().writes() && c.difference() != Difference.CONFLICT
              ? Difference.CHANGED
              : c.difference();
      boolean touches = difference.writes() || difference == Difference.CONFLICT;
      String touched =
          touches
              ? Digest.of(
                      (present == null ? "" : present.canonical())
                          + "\n"
                          + String.join("\n", renames ? look.renaming().words() : List.of())
                          + (worked.isEmpty() ? "" : Conversions.toJson(worked).canonical())
                          + (c.result() == null ? "" : c.result().canonical()))
                  .hex()
              : "";
      return new ComponentResult(key, difference, Counts.of(counts), parts, touched);
    }

    /** What values of columns are worked out from, beside what differs of them. */
    private static List<PartDifference> withWorked(
        List<PartDifference> found, Map<String, Conversion> worked) {
      return found.stream()
          .map(
              p -> {
                Conversion by =
                    p.part() == PartDifference.Part.COLUMN && p.difference().writes()
                        ? worked.get(p.name())
                        : null;
                if (by == null) {
                  return p;
                }
                List<AttributeDifference> all = new ArrayList<>(p.attributes());
                all.add(
                    AttributeDifference.of("worked out by", null, by.expression(), true, false));
                return new PartDifference(p.part(), p.name(), p.difference(), all, p.both());
              })
          .toList();
    }

    /** That it or columns of it get another name, beside what differs of them. */
    private List<PartDifference> withRenamed(ComponentKey key, List<PartDifference> found) {
      List<PartDifference> out = new ArrayList<>();
      PartDifference name = PartDifference.renamed(key, look.renaming());
      if (name != null) {
        out.add(name);
      }
      look.renaming()
          .renamedColumns(TableName.of(key.name()))
          .forEach(
              (was, is) ->
                  out.add(
                      new PartDifference(
                          PartDifference.Part.COLUMN,
                          is,
                          Difference.CHANGED,
                          List.of(AttributeDifference.of("name", was, is, false, false)),
                          null)));
      out.addAll(found);
      return out;
    }

    void item(ItemsComparing items, ComponentKey key) {
      Decision decided = decisions.getOrDefault(key + "#content/", decisions.get(key.toString()));
      items
          .compare(key, decided, members.getOrDefault(key.toString(), Map.of()))
          .ifPresent(
              c -> {
                if (c.difference() != Difference.SAME && incoming.item(key) != null) {
                  drifted(key, "content/");
                }
                results.add(c);
              });
    }

    /** What was decided of single members of definitions, by component and path. */
    private static Map<String, Map<String, Decision>> members(Map<String, Decision> decisions) {
      Map<String, Map<String, Decision>> out = new HashMap<>();
      decisions.forEach(
          (place, d) -> {
            int at = place.indexOf(DefinitionMerge.MEMBER);
            if (at > 0) {
              out.computeIfAbsent(place.substring(0, at), key -> new HashMap<>())
                  .put(place.substring(at + DefinitionMerge.MEMBER.length()), d);
            }
          });
      return out;
    }

    private void drifted(ComponentKey key, String part) {
      String what = key + "#" + part;
      if (exceptions.contains(what) || exceptions.contains(key.toString())) {
        return;
      }
      if (key.kind() == Kind.RECORDS) {
        recordsDrift++;
      } else {
        structureDrift++;
      }
      if (examples.size() < EXAMPLES) {
        examples.add(part.endsWith("/") ? key.toString() : what);
      }
    }

    private Map<String, Decision> decided(ComponentKey key) {
      Map<String, Decision> out = new HashMap<>();
      Decision whole = decisions.get(key.toString());
      TableStructure all = incoming.structure(key);
      if (whole != null && all != null) {
        Set<String> paths = new TreeSet<>();
        paths.add("table/");
        all.columns().forEach(c -> paths.add("column/" + c.name()));
        all.constraints().forEach(c -> paths.add("constraint/" + c.name()));
        all.indexes().forEach(c -> paths.add("index/" + c.name()));
        all.settings().forEach(s -> paths.add("setting/" + s.name()));
        paths.add("comment/");
        paths.addAll(incoming.removals(key));
        paths.forEach(p -> out.put(p, whole));
      }
      String prefix = key + "#";
      decisions.forEach(
          (path, d) -> {
            if (path.startsWith(prefix)) {
              out.put(path.substring(prefix.length()), d);
            }
          });
      return out;
    }

    ComponentResult records(int n, ComponentKey key) {
      RecordsDefinition definition = incoming.records(key);
      TableStructure present = tables.get(definition.table());
      MessageDigest touched = Digest.sha256();
      boolean[] touches = {false};
      Counts counts;
      try (RowReader in = incoming.rows(key);
          RowReader base = incoming.baseRows(key);
          RowReader there = present(definition, present, in, base);
          ComparisonFiles.Writer out =
              files.writer(id, n, header(base), header(there), header(in))) {
        RowsPolicy policy = incoming.policy(key);
        Set<String> removals = policy == RowsPolicy.ADD_ONLY ? Set.of() : incoming.removals(key);
        boolean allStay = allStay(key);
        RecordsComparison.Sink sink =
            row -> {
              out.add(row);
              if (row.difference().writes() || row.difference() == Difference.CONFLICT) {
                touches[0] = true;
                touch(touched, row);
              }
              boolean mirrored = policy == RowsPolicy.MIRROR && row.incoming() == null;
              boolean stays = policy == RowsPolicy.ADD_ONLY && row.difference() == Difference.KEPT;
              if (row.incoming() != null && !stays || mirrored) {
                drifted(key, "row/" + row.any().keyLine());
              }
            };
        counts =
            incoming.replaces()
                ? RecordsComparison.merge(
                    null,
                    there,
                    in,
                    (b, row) -> !(allStay || stays(key, row) || spared(key, row)),
                    (b, p, i) -> left(key, i) ? i : p,
                    sink)
                : RecordsComparison.merge(
                    base,
                    there,
                    in,
                    (b, row) ->
                        incoming.removesWhatBaseHas()
                            ? b != null && !(allStay || stays(key, row))
                            : policy == RowsPolicy.MIRROR
                                || !removals.isEmpty() && removals.contains("row/" + row.keyLine()),
                    RecordsComparison.Base.under(policy),
                    sink);
      } catch (TwinRows e) {
        throw twins(definition);
      }
      Difference d =
          counts.conflict() > 0
              ? Difference.CONFLICT
              : counts.written() > 0
                  ? Difference.CHANGED
                  : counts.kept() > 0 ? Difference.KEPT : Difference.SAME;
      return new ComponentResult(
          key, d, counts, List.of(), touches[0] ? Digest.of(touched).hex() : "");
    }

    /** Told without their values, which not everybody may see who reads why a case failed. */
    private static Problem twins(RecordsDefinition definition) {
      String key = String.join(", ", definition.key());
      String columns =
          definition.key().stream().map(Renaming::quoted).collect(Collectors.joining(", "));
      return Problem.stopped(
          "TWIN_ROWS",
          "Rows of "
              + definition.table()
              + " at the site have the same key ("
              + key
              + "), so it cannot be told which of them is meant.",
          "Leave one of each there. They are found by: SELECT "
              + columns
              + " FROM "
              + Renaming.quoted(definition.table().schema())
              + "."
              + Renaming.quoted(definition.table().table())
              + " GROUP BY "
              + columns
              + " HAVING count(*) > 1");
    }

    /** Whether somebody chose that every row is left there which a way back would take away. */
    private boolean allStay(ComponentKey key) {
      return decisions.get(key + Obstacle.ALL_THAT_GO) == Decision.KEEP
          || decisions.get(new ComponentKey(Kind.TABLE, key.name()) + "#table/") == Decision.KEEP;
    }

    /** Whether a part that comes stays as it is there. */
    private boolean leaves(ComponentKey key, @Nullable TableStructure in, String part) {
      return incoming.replaces() && incoming.leaves(key, part)
          || in != null && decisions.get(key + "#" + part) == Decision.KEEP;
    }

    private boolean left(ComponentKey key, @Nullable Row row) {
      return row != null && incoming.leaves(key, "row/" + row.keyLine());
    }

    private boolean spared(ComponentKey key, Row row) {
      return incoming.spares(key, "row/" + row.keyLine());
    }

    /** Whether somebody chose it of this row. */
    private boolean stays(ComponentKey key, Row row) {
      return !decisions.isEmpty() && decisions.get(key + "#row/" + row.keyLine()) == Decision.KEEP;
    }

    private static plenzo.core.records.@Nullable Header header(@Nullable RowReader reader) {
      return reader == null ? null : reader.header();
    }

    private @Nullable RowReader present(
        RecordsDefinition definition,
        @Nullable TableStructure present,
        @Nullable RowReader in,
        @Nullable RowReader base) {
      if (present == null) {
        return null;
      }
      List<String> missing =
          definition.key().stream().filter(k -> present.column(k).isEmpty()).toList();
      if (!missing.isEmpty()) {
        requireEmpty(definition, missing);
        return null;
      }
      Set<String> columns = new TreeSet<>();
      if (in != null) {
        columns.addAll(in.header().names());
      }
      if (base != null) {
        columns.addAll(base.header().names());
      }
      return look.tables().rows(definition, columns);
    }

    /** Rows are not taken for others because what tells them apart is not there yet. */
    private void requireEmpty(RecordsDefinition definition, List<String> missing) {
      long rows = look.tables().answer(Question.of(Question.Type.ROWS, definition.table())).count();
      if (rows > 0) {
        throw Problem.stopped(
            "KEY_NOT_THERE",
            Words.count(rows, "row")
                + " of "
                + definition.table()
                + " at the site cannot be held against those of the version: these are told apart by "
                + String.join(", ", definition.key())
                + ", and the table there has no "
                + String.join(", ", missing)
                + ".",
            "Tell the rows apart by columns that both have: plenzo draft add DRAFT records/"
                + definition.table().componentName()
                + ":COLUMN");
      }
    }

    private static void touch(MessageDigest digest, RowDifference row) {
      digest.update(row.difference().code().getBytes(StandardCharsets.UTF_8));
      for (Row side : java.util.Arrays.asList(row.present(), row.incoming())) {
        digest.update((byte) '\n');
        if (side != null) {
          digest.update(side.raw());
        }
      }
    }
  }

  /**
   * What moved between two comparisons of the same promotion, by content, at most {@code limit}
   * lines.
   */
  public List<String> moved(String before, List<ComponentResult> was, Compared now, int limit) {
    List<String> out = new ArrayList<>();
    Map<ComponentKey, Integer> places = new HashMap<>();
    was.forEach(c -> places.put(c.key(), places.size()));
    for (int n = 0; n < now.components().size() && out.size() < limit; n++) {
      ComponentResult c = now.components().get(n);
      Integer place = places.remove(c.key());
      // a file that was the same then was not listed
      String old = place == null ? "" : was.get(place).touched();
      boolean known = place != null || c.key().kind() == Kind.FILE;
      if (!known || old.equals(c.touched())) {
        continue;
      }
      switch (c.key().kind()) {
        case TABLE -> out.add(c.key() + ": its structure moved here");
        case RECORDS -> rowsMoved(before, place, now.id(), n, c.key(), out, limit);
        case FILE, INTEGRATION, RULE, FORM, TYPE, SEQUENCE, ROUTINE, VIEW, TRIGGER, POLICY ->
            out.add(c.key() + ": it was changed here");
      }
    }
    // and one that is the same now is listed no more
    places.entrySet().stream()
        .filter(e -> e.getKey().kind() == Kind.FILE && !was.get(e.getValue()).touched().isEmpty())
        .map(e -> e.getKey() + ": it was changed here")
        .sorted()
        .limit(limit - out.size())
        .forEach(out::add);
    return out;
  }

  private void rowsMoved(
      String before,
      int place,
      String after,
      int n,
      ComponentKey key,
      List<String> out,
      int limit) {
    if (!files.kept(before, place)) {
      out.add(key + ": rows of it moved here; which is no longer known");
      return;
    }
    Map<String, RowDifference> old = new LinkedHashMap<>();
    Map<String, RowDifference> fresh = new LinkedHashMap<>();
    for (Difference d :
        List.of(Difference.CONFLICT, Difference.REMOVED, Difference.CHANGED, Difference.ADDED)) {
      try (ComparisonFiles.Reader a = files.read(before, place, d, 0);
          ComparisonFiles.Reader b = files.read(after, n, d, 0)) {
        RowDifference x = a.next();
        RowDifference y = b.next();
        while ((x != null || y != null) && old.size() + fresh.size() < 4 * limit) {
          int c = x == null ? 1 : y == null ? -1 : x.any().compareKey(y.any());
          if (c == 0 && equal(Objects.requireNonNull(x), Objects.requireNonNull(y))) {
            x = a.next();
            y = b.next();
            continue;
          }
          if (c <= 0 && x != null) {
            old.put(x.any().keyLine(), x);
            x = a.next();
          }
          if (c >= 0 && y != null) {
            fresh.put(y.any().keyLine(), y);
            y = b.next();
          }
        }
      }
    }
    Set<String> keys = new TreeSet<>(old.keySet());
    keys.addAll(fresh.keySet());
    for (String line : keys) {
      if (out.size() < limit) {
        out.add(
            key + " row " + line.replace("\"", "") + ": " + what(old.get(line), fresh.get(line)));
      }
    }
  }

  private static boolean equal(RowDifference x, RowDifference y) {
    return same(x.present(), y.present()) && same(x.incoming(), y.incoming());
  }

  private static boolean same(@Nullable Row a, @Nullable Row b) {
    return a == null ? b == null : b != null && java.util.Arrays.equals(a.raw(), b.raw());
  }

  private static String what(@Nullable RowDifference old, @Nullable RowDifference fresh) {
    Row was = old == null ? null : old.present();
    Row is = fresh == null ? null : fresh.present();
    if (was != null && is != null) {
      List<String> names = new ArrayList<>();
      for (String name : is.header().names()) {
        int p = was.header().position(name);
        if (p >= 0 && !Objects.equals(was.get(p), is.get(is.header().position(name)))) {
          names.add(name);
        }
      }
      if (!names.isEmpty()) {
        return String.join(", ", names) + " changed here";
      }
    }
    if (fresh == null) {
      return "already as the version has it, or gone";
    }
    return old == null ? "was added or changed here" : "changed here";
  }
}
