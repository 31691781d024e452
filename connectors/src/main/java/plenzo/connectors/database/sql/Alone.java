package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import plenzo.core.component.TableName;

/**
 * Tables from which others inherit. What is said of one by itself says ONLY, which must not be said
 * of a table with partitions: that has no rows by itself.
 */
public record Alone(List<String> parents) {
  /** Schema and name of every such table of the database. */
  public static final String PARENTS =
      "SELECT DISTINCT n.nspname, c.relname FROM pg_catalog.pg_inherits i JOIN pg_catalog.pg_class c ON c.oid = i.inhparent AND c.relkind = 'r' JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace";

  public Alone {
    parents = List.copyOf(parents);
  }

  public static Alone of(Collection<TableName> parents) {
    return new Alone(parents.stream().map(Sql::name).toList());
  }

  /** The same with more of them. */
  public Alone and(Collection<TableName> more) {
    List<String> all = new ArrayList<>(parents);
    all.addAll(of(more).parents);
    return new Alone(all);
  }

  public String in(String sql) {
    if (!sql.contains(Sql.ALONE)) {
      return sql;
    }
    String out = sql;
    for (String parent : parents) {
      out = out.replace(Sql.ALONE + parent, "ONLY " + parent);
    }
    return out.replace(Sql.ALONE, "");
  }

  public List<String> in(List<String> statements) {
    return statements.stream().map(this::in).toList();
  }
}
