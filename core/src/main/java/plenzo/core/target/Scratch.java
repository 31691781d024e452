package plenzo.core.target;

import java.io.InputStream;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.Header;
import plenzo.core.records.RowReader;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;

/**
 * A database of its own, where a backup is restored to prove it and where a plan is rehearsed. One
 * thread.
 */
public interface Scratch extends Session {
  /**
   * Makes an empty place, taking away a leftover of the same name first.
   *
   * @param schemas that are made in it
   * @param extensions that the site's database has: made too as far as the account may, as columns
   *     and routines use what is theirs
   */
  void open(Place place, Collection<String> schemas, List<Extension> extensions);

  /**
   * Extensions of the site's database that the open place does not have, each with why, such as
   * "extension postgis, which this site has, cannot be made in a scratch place: permission denied".
   */
  List<String> lacking();

  /** How a session is opened in the place that is open: as to any other database. */
  Access inside();

  /**
   * Restores tables and schema objects, and reads the tables again.
   *
   * @param tables in an order in which references are met
   * @param objects with everything that they are built on
   * @return for each table what stands there now
   */
  List<Restored> restore(List<Source> tables, Collection<SchemaObject> objects);

  /** Schema objects as they stand in the place. */
  List<SchemaObject> objects(String schema);

  /**
   * Those of some schema objects that the place can have: what its own account may do as the owner
   * is no grant there.
   */
  default List<SchemaObject> having(Collection<SchemaObject> objects) {
    return List.copyOf(objects);
  }

  /** Those of some schema objects that do not stand in the place as they are here. */
  default List<ComponentKey> otherwise(Collection<SchemaObject> objects) {
    Map<ComponentKey, Digest> there = new HashMap<>();
    objects.stream()
        .map(o -> o.name().schema())
        .distinct()
        .forEach(schema -> objects(schema).forEach(o -> there.put(o.key(), o.digest())));
    return objects.stream()
        .filter(o -> !o.digest().equals(there.get(o.key())))
        .map(SchemaObject::key)
        .toList();
  }

  /** Places that were left. */
  List<Leftover> leftovers();

  /** Takes the place away; repeatable. */
  void drop(Place place);

  /**
   * Which place.
   *
   * @param number of the run or rehearsal whose it is
   */
  record Place(Leftover.Sort sort, long number) {
    /** Where the run's backup is restored. */
    public static Place proof(long run) {
      return new Place(Leftover.Sort.SCRATCH, run);
    }

    public static Place rehearsal(long number) {
      return new Place(Leftover.Sort.REHEARSAL, number);
    }

    /** Behind the numbers of rehearsals, which name such places too. */
    private static final long TRIALS = 1_000_000_000L;

    /** Number of the place where a promotion's statements are tried; the same each time. */
    public static long trialOf(long promotion) {
      return TRIALS + promotion;
    }

    /** The promotion whose statements were tried in what is left; 0 when it is of a rehearsal. */
    public static long promotionOf(Leftover left) {
      return Math.max(0, left.run() - TRIALS);
    }

    /** The place that a leftover is. */
    public static Place of(Leftover left) {
      return new Place(left.sort(), left.run());
    }
  }

  /**
   * One table of a backup.
   *
   * @param beside whether it is there so that others can be made, without the rows that theirs may
   *     point at
   */
  record Source(TableName table, TableStructure structure, Rows rows, boolean beside) {
    public Source(TableName table, TableStructure structure, Rows rows) {
      this(table, structure, rows, /* beside= */ false);
    }

    /** One that others are built on. */
    public static Source beside(TableName table, TableStructure structure) {
      return new Source(table, structure, () -> none(structure), /* beside= */ true);
    }

    /** One without a row. */
    public static Source empty(TableName table, TableStructure structure) {
      return new Source(table, structure, () -> none(structure));
    }

    /** No rows of a table. */
    public static RowReader none(TableStructure structure) {
      List<Column> columns = structure.inOrder().stream().filter(c -> !c.isComputed()).toList();
      return new RowReader(
          InputStream.nullInputStream(),
          new Header(
              columns.stream().map(Column::name).toList(),
              columns.stream().map(Column::type).toList(),
              0),
          /* ordered= */ false);
    }
  }

  /** Opens the rows of a backup. */
  interface Rows {
    RowReader open();
  }

  /** What was read back. */
  record Restored(TableName table, TableStructure structure, long rows, Digest sum) {}
}
