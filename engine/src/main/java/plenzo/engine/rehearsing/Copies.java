package plenzo.engine.rehearsing;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.records.RowReader;
import plenzo.core.table.Constraint;
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
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** Copies of what a plan can touch at the targets of one site. One thread. */
final class Copies implements AutoCloseable {
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
   * @param there every table of the schemas as the plan read it
   */
  Tables tables(
      Targets.At at,
      SiteLook look,
      Map<TableName, TableStructure> there,
      TablesDelta delta,
      Runnable alive) {
    return tables(
        at,
        (name, structure) -> {
          alive.run();
          return look.tables().allRows(name, List.of());
        },
        there,
        delta);
  }

  /** Where the rows of a table's copy come from. */
  interface RowsOf {
    RowReader read(TableName table, TableStructure structure);
  }

  /** The same with rows from elsewhere. */
  Tables tables(
      Targets.At at, RowsOf rows, Map<TableName, TableStructure> there, TablesDelta delta) {
    Set<TableName> names = near(there, delta);
    List<Scratch.Source> sources = new ArrayList<>();
    for (TableName name : names) {
      TableStructure structure = Objects.requireNonNull(there.get(name));
      sources.add(new Scratch.Source(name, structure, () -> rows.read(name, structure)));
    }
    Set<String> schemas = new LinkedHashSet<>(at.target().schemas());
    schemas.add(MARKER);
    Scratch made = targets.scratch(at);
    scratch = made;
    ats.put(at.holder(), at);
    made.open(Scratch.Place.rehearsal(number), schemas);
    long copied = 0;
    for (Scratch.Restored r : made.restore(sources)) {
      if (!r.structure().equals(there.get(r.table()))) {
        throw new TargetFailed(
            r.table() + " cannot be copied: its structure is another in the copy",
            /* notReachable= */ false,
            new IllegalStateException(r.table().toString()));
      }
      copied += r.rows();
    }
    inside.put(at.holder(), made.inside());
    return new Tables(names.size(), copied);
  }

  /** What a plan touches, and what hangs together with it by a foreign key. */
  static Set<TableName> near(Map<TableName, TableStructure> there, TablesDelta delta) {
    Set<TableName> touched = delta.touched();
    Set<TableName> out = new LinkedHashSet<>(touched);
    for (TablesDelta.TableDelta t : delta.tables()) {
      out.addAll(pointedAt(t.present()));
      out.addAll(pointedAt(t.result()));
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
        : structure.foreignKeys().stream()
            .map(Constraint::references)
            .filter(Objects::nonNull)
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
