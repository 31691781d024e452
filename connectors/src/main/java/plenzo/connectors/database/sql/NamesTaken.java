package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.OwnedSequence;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/**
 * Names of sequences and indexes that something takes before what has them is gone: tables,
 * sequences, indexes and views of a schema share their names. A sequence that one column or none
 * owned, and another or none owns then, is handed over with its number; whatever else has such a
 * name stands aside until it goes.
 */
final class NamesTaken {
  private static final String CREATE = "CREATE SEQUENCE ";
  private static final String DROP = "DROP SEQUENCE ";

  /** Sequences that stay, by their quoted names. */
  private final Set<String> handedOver = new LinkedHashSet<>();

  /** Of those, the ones that a column owns. */
  private final Set<String> owned = new HashSet<>();

  /** Sequences that go under another name. */
  private final Set<TableName> aside = new LinkedHashSet<>();

  private final Set<TableName> indexes = new LinkedHashSet<>();

  private NamesTaken() {}

  static NamesTaken of(TablesDelta delta) {
    NamesTaken out = new NamesTaken();
    Names was = new Names();
    Names is = new Names();
    delta
        .tables()
        .forEach(
            t -> {
              was.table(t.table(), t.present(), t.result() == null);
              is.table(t.table(), t.result(), /* goes= */ false);
            });
    for (ObjectDelta o : delta.objects()) {
      if (o.act() == ObjectDelta.Act.DROP) {
        was.object(o);
      } else if (o.act() == ObjectDelta.Act.MAKE) {
        is.object(o);
      }
    }
    was.sequences.stream()
        .filter(s -> !is.owners.getOrDefault(s, "").equals(was.owners.getOrDefault(s, "")))
        .forEach(
            s -> {
              if (is.sequences.contains(s)) {
                out.handedOver.add(Sql.name(s));
                if (was.owners.containsKey(s)) {
                  out.owned.add(Sql.name(s));
                }
              } else if (is.all.contains(s)) {
                out.aside.add(s);
              }
            });
    was.identities.stream()
        .filter(s -> is.all.contains(s))
        .filter(s -> !is.owners.getOrDefault(s, "").equals(was.owners.getOrDefault(s, "")))
        .forEach(out.aside::add);
    was.going.stream().filter(is.all::contains).forEach(out.indexes::add);
    return out;
  }

  /** The relations of one side. */
  private static final class Names {
    /** Sequences that no identity has: who owns one can change. */
    private final Set<TableName> sequences = new LinkedHashSet<>();

    private final Set<TableName> identities = new LinkedHashSet<>();

    /** The column that owns one. */
    private final Map<TableName, String> owners = new HashMap<>();

    private final Set<TableName> all = new HashSet<>();

    /** Indexes of tables that go. */
    private final Set<TableName> going = new LinkedHashSet<>();

    void table(TableName table, @Nullable TableStructure structure, boolean goes) {
      if (structure == null) {
        return;
      }
      all.add(table);
      for (Column c : structure.columns()) {
        OwnedSequence s = c.sequence();
        if (s != null) {
          TableName name = new TableName(table.schema(), s.name());
          (c.identity() == null ? sequences : identities).add(name);
          owners.put(name, table + "." + c.name());
          all.add(name);
        }
      }
      Set<TableName> own = new LinkedHashSet<>();
      structure.indexes().forEach(i -> own.add(new TableName(table.schema(), i.name())));
      structure.constraints().stream()
          .filter(
              k ->
                  k.type() == Constraint.Type.PRIMARY
                      || k.type() == Constraint.Type.UNIQUE
                      || k.type() == Constraint.Type.EXCLUDE)
          .forEach(k -> own.add(new TableName(table.schema(), k.name())));
      all.addAll(own);
      if (goes) {
        going.addAll(own);
      }
    }

    void object(ObjectDelta o) {
      ObjectName n = ObjectName.of(o.key());
      if (o.key().kind() == Kind.SEQUENCE
          || o.key().kind() == Kind.VIEW
          || o.key().kind() == Kind.TYPE) {
        TableName name = new TableName(n.schema(), n.name());
        all.add(name);
        if (o.key().kind() == Kind.SEQUENCE) {
          sequences.add(name);
        }
      }
    }
  }

  /** What is said first. */
  List<String> first() {
    List<String> out = new ArrayList<>();
    owned.stream().sorted().forEach(s -> out.add("ALTER SEQUENCE " + s + " OWNED BY NONE"));
    aside.forEach(s -> out.add("ALTER SEQUENCE " + Sql.name(s) + " RENAME TO " + older(s)));
    indexes.forEach(i -> out.add("ALTER INDEX " + Sql.name(i) + " RENAME TO " + older(i)));
    return out;
  }

  private static String older(TableName name) {
    return Sql.name(Renaming.older(name.table()));
  }

  /** Statements about sequences as they are then. */
  List<String> in(List<String> statements) {
    List<String> out = new ArrayList<>();
    for (String sql : statements) {
      String dropped = sql.startsWith(DROP) ? sql.substring(DROP.length()) : "";
      String made =
          sql.startsWith(CREATE)
              ? handedOver.stream()
                  .filter(s -> sql.startsWith(CREATE + s + " "))
                  .findFirst()
                  .orElse("")
              : "";
      if (!made.isEmpty()) {
        out.add("ALTER SEQUENCE " + sql.substring(CREATE.length()));
      } else if (handedOver.contains(dropped)) {
        continue; // it stays
      } else {
        out.add(
            aside.stream()
                .filter(s -> Sql.name(s).equals(dropped))
                .findFirst()
                .map(s -> DROP + Sql.name(new TableName(s.schema(), Renaming.older(s.table()))))
                .orElse(sql));
      }
    }
    return out;
  }
}
