package plenzo.engine.rehearsing;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.object.Foundations;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.RowReader;
import plenzo.core.table.Constraint;
import plenzo.core.table.Exchanges;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Aside;
import plenzo.core.target.Changing;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.Looking;
import plenzo.core.target.Scratch;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TargetFailed;
import plenzo.core.words.Words;
import plenzo.engine.comparing.Compared;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** Copies of what a plan can touch at the targets of one site. One thread. */
final class Copies implements AutoCloseable {
  /** Nobody but the rehearsal gives names there: what is carried out next was not done before. */
  static final Supplier<Exchanges> AHEAD = () -> Exchanges.all(Exchanges.Progress.TO_DO);

  /** Where a changing session looks for its marker. */
  private static final String MARKER = "plenzo";

  private final Targets targets;
  private final long number;
  private final Map<Holder, Targets.At> ats = new EnumMap<>(Holder.class);
  private final Map<Holder, Access> inside = new EnumMap<>(Holder.class);
  private @Nullable Scratch scratch;
  private final List<Aside> asides = new ArrayList<>();

  Copies(Targets targets, long number) {
    this.targets = targets;
    this.number = number;
  }

  /** What was copied of a database. */
  record Tables(int tables, long rows) {}

  /**
   * Copies the tables that a plan touches, and those that they point at or that point at them.
   *
   * @param there every table and schema object of the schemas as the plan read them
   */
  Tables tables(Targets.At at, SiteLook look, Compared there, TablesDelta delta, Runnable alive) {
    return tables(
        at,
        (name, structure) -> {
          alive.run();
          return look.tables().allRows(name, List.of());
        },
        there,
        near(there, delta));
  }

  /** Where the rows of a table's copy come from. */
  interface RowsOf {
    RowReader read(TableName table, TableStructure structure);
  }

  /**
   * The same with rows from elsewhere.
   *
   * @param keys tables and schema objects, with everything that they are built on
   */
  Tables tables(Targets.At at, RowsOf rows, Compared there, Set<ComponentKey> keys) {
    List<TableName> names =
        keys.stream().filter(k -> k.kind() == Kind.TABLE).map(k -> TableName.of(k.name())).toList();
    Map<TableName, TableStructure> found = there.found();
    Map<ComponentKey, SchemaObject> foundObjects = there.foundObjects();
    List<SchemaObject> objects =
        keys.stream()
            .filter(k -> k.kind().schemaObject())
            .map(k -> Objects.requireNonNull(foundObjects.get(k)))
            .toList();
    List<Scratch.Source> sources = new ArrayList<>();
    for (TableName name : names) {
      TableStructure structure = Objects.requireNonNull(found.get(name));
      sources.add(new Scratch.Source(name, structure, () -> rows.read(name, structure)));
    }
    Set<String> schemas = new LinkedHashSet<>(targets.schemas(at.target()));
    schemas.add(MARKER);
    Scratch made = targets.scratch(at);
    scratch = made;
    ats.put(at.holder(), at);
    made.open(Scratch.Place.rehearsal(number), schemas, targets.extensions(at));
    long copied = 0;
    for (Scratch.Restored r : made.restore(sources, objects)) {
      if (!r.structure().equals(found.get(r.table()))) {
        throw new TargetFailed(
            r.table() + " cannot be copied: its structure is another in the copy",
            /* notReachable= */ false,
            new IllegalStateException(r.table().toString()));
      }
      copied += r.rows();
    }
    made.otherwise(objects).stream()
        .findFirst()
        .ifPresent(
            key -> {
              throw new TargetFailed(
                  key + " cannot be copied: it is another in the copy",
                  /* notReachable= */ false,
                  new IllegalStateException(key.toString()));
            });
    inside.put(at.holder(), made.inside());
    return new Tables(names.size(), copied);
  }

  /** Everything of the schemas, by the names of now. */
  static Set<ComponentKey> all(Compared there) {
    Set<ComponentKey> out = new TreeSet<>(there.foundObjects().keySet());
    there.found().keySet().forEach(t -> out.add(key(t)));
    return out;
  }

  private static ComponentKey key(TableName table) {
    return new ComponentKey(Kind.TABLE, table.componentName());
  }

  /**
   * What a plan touches, what hangs together with it by a foreign key, what all of that is built
   * on, and what is built on nothing else; by the names of now.
   */
  static Set<ComponentKey> near(Compared there, TablesDelta delta) {
    Map<ComponentKey, SchemaObject> objects = there.foundObjects();
    Map<TableName, TableStructure> tables = there.found();
    Renaming back = delta.renaming().inverse();
    Foundations foundations = new Foundations(tables, objects);
    Set<ComponentKey> wanted = new TreeSet<>();
    near(tables, delta).forEach(t -> wanted.add(key(t)));
    for (ObjectDelta o : delta.objects()) {
      wanted.add(back.named(o.key()));
      SchemaObject result = o.result();
      if (result != null) {
        result.needs().forEach(n -> wanted.add(back.named(n.component())));
      }
    }
    Set<ComponentKey> out = foundations.of(wanted);
    for (ComponentKey key : objects.keySet()) {
      Set<ComponentKey> on = foundations.of(List.of(key));
      if (on.stream().allMatch(k -> k.kind() != Kind.TABLE || out.contains(k))) {
        out.addAll(on);
      }
    }
    return out;
  }

  /**
   * What a plan touches, and what hangs together with it by a foreign key.
   *
   * @param there every table by its name of now
   */
  static Set<TableName> near(Map<TableName, TableStructure> there, TablesDelta delta) {
    Set<TableName> touched = new LinkedHashSet<>();
    delta.touched().forEach(t -> touched.add(delta.renaming().before(t)));
    Set<TableName> out = new LinkedHashSet<>(touched);
    for (TablesDelta.TableDelta t : delta.tables()) {
      pointedAt(t.present()).forEach(o -> out.add(delta.renaming().before(o)));
      pointedAt(t.result()).forEach(o -> out.add(delta.renaming().before(o)));
    }
    touched.forEach(t -> out.addAll(pointedAt(there.get(t))));
    there.forEach(
        (name, structure) -> {
          if (pointedAt(structure).stream().anyMatch(touched::contains)) {
            out.add(name);
          }
        });
    out.retainAll(there.keySet());
    return out;
  }

  private static List<TableName> pointedAt(@Nullable TableStructure structure) {
    return structure == null
        ? List.of()
        : Stream.concat(
                structure.inherits().stream(),
                structure.foreignKeys().stream()
                    .map(Constraint::references)
                    .filter(Objects::nonNull))
            .toList();
  }

  /** Copies the files that a plan changes or removes; of a host all definitions and values. */
  String items(Targets.At at, SiteLook look, ItemsDelta delta, Runnable alive) {
    Map<ComponentKey, Digest> pieces = new LinkedHashMap<>();
    for (ItemsDelta.Change c : delta.changes()) {
      if (c.present() != null) {
        pieces.put(c.key(), c.present());
      }
    }
    Aside made = targets.aside(at, number);
    asides.add(made);
    ats.put(at.holder(), at);
    made.fill(look.items(at.holder()), pieces, alive);
    inside.put(at.holder(), made.inside());
    return at.holder() == Holder.HOST ? "All definitions" : Words.count(pieces.size(), "file");
  }

  /** Which targets have a copy, in no order. */
  Set<Holder> holders() {
    return inside.keySet();
  }

  /** Looks at all copies. */
  SiteLook look() {
    Map<Holder, Looking> open = new EnumMap<>(Holder.class);
    try {
      inside.forEach((holder, access) -> open.put(holder, targets.lookAt(at(holder), access)));
    } catch (RuntimeException e) {
      open.values().forEach(Looking::close);
      throw e;
    }
    return new SiteLook("the copy", open);
  }

  Changing change(Holder holder) {
    return targets.changeAt(at(holder), Objects.requireNonNull(inside.get(holder)));
  }

  Targets.At at(Holder holder) {
    return Objects.requireNonNull(ats.get(holder));
  }

  /** The account that sessions of a copy have. */
  String account(Holder holder) {
    return Objects.requireNonNull(inside.get(holder)).account();
  }

  /** What the database's copies do not have that the site has, each with why. */
  List<String> lacking() {
    Scratch made = scratch;
    return made == null ? List.of() : made.lacking();
  }

  /** Takes away what a rehearsal left beside one target. */
  static void clear(Targets targets, Targets.At at, long number) {
    if (at.holder() != Holder.DATABASE) {
      targets.aside(at, number).drop();
      return;
    }
    try (Scratch s = targets.scratch(at)) {
      s.drop(Scratch.Place.rehearsal(number));
    }
  }

  /** Takes the copies away; each is tried. */
  @Override
  public void close() {
    List<Runnable> all = new ArrayList<>();
    asides.forEach(a -> all.add(a::drop));
    Scratch made = scratch;
    if (made != null) {
      all.add(
          () -> {
            try (Scratch s = made) {
              s.drop(Scratch.Place.rehearsal(number));
            }
          });
    }
    RuntimeException failed = null;
    for (Runnable drop : all) {
      try {
        drop.run();
      } catch (RuntimeException e) {
        failed = e;
      }
    }
    if (failed != null) {
      throw failed;
    }
  }
}
