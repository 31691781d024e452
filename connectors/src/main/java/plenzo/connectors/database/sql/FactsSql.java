package plenzo.connectors.database.sql;

import java.util.List;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import plenzo.core.target.Question;

/** Queries that count for the impact check; each returns a count and up to five examples. */
public final class FactsSql {
  private static final Pattern NUMERIC = Pattern.compile("numeric\\(\\d+,(\\d+)\\)");

  private FactsSql() {}

  public static String query(Question q) {
    String table = Sql.name(q.table());
    String from = " FROM ONLY " + table + " t";
    return switch (q.type()) {
      case ROWS -> count("'a row'", from);
      case FILLED ->
          count(
              Sql.text("t." + Sql.name(q.columns().get(0))),
              from + " WHERE t." + Sql.name(q.columns().get(0)) + " IS NOT NULL");
      case NULLS ->
          count("t.ctid::text", from + " WHERE t." + Sql.name(q.columns().get(0)) + " IS NULL");
      case NOT_FITTING -> notFitting(q, from);
      case DUPLICATES -> {
        String columns =
            q.columns().stream().map(c -> "t." + Sql.name(c)).collect(Collectors.joining(", "));
        String filled =
            q.columns().stream()
                .map(c -> "t." + Sql.name(c) + " IS NOT NULL")
                .collect(Collectors.joining(" AND "));
        String shown =
            q.columns().stream()
                .map(c -> "t." + Sql.name(c) + "::text")
                .collect(Collectors.joining(", "));
        yield "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT pg_catalog.concat_ws(', ', "
            + shown
            + ") AS e"
            + from
            + " WHERE "
            + filled
            + " GROUP BY "
            + columns
            + " HAVING count(*) > 1) q";
      }
      case ORPHANS -> {
        String match = match(q.columns(), "t", q.otherColumns(), "o");
        String filled =
            q.columns().stream()
                .map(c -> "t." + Sql.name(c) + " IS NOT NULL")
                .collect(Collectors.joining(" AND "));
        String shown =
            q.columns().stream()
                .map(c -> "t." + Sql.name(c) + "::text")
                .collect(Collectors.joining(", "));
        yield count(
            "pg_catalog.concat_ws(', ', " + shown + ")",
            from
                + " WHERE "
                + filled
                + " AND NOT EXISTS (SELECT 1 FROM "
                + Sql.name(Objects.requireNonNull(q.other()))
                + " o WHERE "
                + match
                + ")");
      }
      case POINTING -> {
        String columns =
            q.otherColumns().stream()
                .map(c -> "pg_catalog.format('%s', t." + Sql.name(c) + ")")
                .collect(Collectors.joining(", "));
        String keys =
            q.keys().stream()
                .map(
                    k ->
                        k.stream()
                            .map(v -> Sql.literal(v).strip())
                            .collect(Collectors.joining(", ", "(", ")")))
                .collect(Collectors.joining(", "));
        yield count(
            "pg_catalog.concat_ws(', ', " + columns + ")",
            " FROM ONLY "
                + Sql.name(Objects.requireNonNull(q.other()))
                + " t WHERE ("
                + columns
                + ") IN ("
                + keys
                + ")");
      }
      case DEPENDENTS -> dependents(q);
      case CODE -> {
        String oid = Sql.literal(table) + "::pg_catalog.regclass";
        yield "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT 'trigger ' || g.tgname || ' of ' || pg_catalog.pg_get_userbyid(p.proowner) AS e FROM pg_catalog.pg_trigger g JOIN pg_catalog.pg_proc p ON p.oid = g.tgfoid WHERE NOT g.tgisinternal AND g.tgenabled <> 'D' AND g.tgrelid = "
            + oid
            + " UNION ALL SELECT 'rule ' || r.rulename || ' of ' || pg_catalog.pg_get_userbyid(c.relowner) FROM pg_catalog.pg_rewrite r JOIN pg_catalog.pg_class c ON c.oid = r.ev_class WHERE c.relkind <> 'v' AND c.relkind <> 'm' AND r.ev_class = "
            + oid
            + ") q";
      }
      case BYTES ->
          "SELECT pg_catalog.pg_total_relation_size("
              + Sql.literal(table)
              + "::pg_catalog.regclass), ARRAY[]::text[]";
    };
  }

  private static String count(String example, String from) {
    return "SELECT (SELECT count(*)"
        + from
        + "), ARRAY(SELECT "
        + example
        + from
        + (from.contains(" WHERE ") ? "" : " WHERE true")
        + " LIMIT 5)";
  }

  private static String match(List<String> a, String x, List<String> b, String y) {
    return IntStream.range(0, a.size())
        .mapToObj(i -> x + "." + Sql.name(a.get(i)) + " = " + y + "." + Sql.name(b.get(i)))
        .collect(Collectors.joining(" AND "));
  }

  private static String notFitting(Question q, String from) {
    String column = "t." + Sql.name(q.columns().get(0));
    String test =
        "NOT pg_catalog.pg_input_is_valid(" + column + "::text, " + Sql.literal(q.text()) + ")";
    Matcher m = NUMERIC.matcher(q.text());
    if (m.matches()) {
      test =
          "("
              + test
              + " OR "
              + column
              + "::numeric <> pg_catalog.round("
              + column
              + "::numeric, "
              + m.group(1)
              + "))";
    }
    return count(Sql.text(column), from + " WHERE " + column + " IS NOT NULL AND " + test);
  }

  private static String dependents(Question q) {
    String oid = Sql.literal(Sql.name(q.table())) + "::pg_catalog.regclass";
    String column =
        q.columns().isEmpty()
            ? ""
            : " AND d.refobjsubid = (SELECT attnum FROM pg_catalog.pg_attribute WHERE attrelid = "
                + oid
                + " AND attname = "
                + Sql.literal(q.columns().get(0))
                + ")";
    String where =
        " WHERE d.refclassid = 'pg_catalog.pg_class'::pg_catalog.regclass AND d.refobjid = "
            + oid
            + column;
    return "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT DISTINCT CASE c.relkind WHEN 'v' THEN 'view ' WHEN 'm' THEN 'materialized view ' ELSE 'rule on ' END || n.nspname || '.' || c.relname AS e"
        + " FROM pg_catalog.pg_depend d JOIN pg_catalog.pg_rewrite r ON d.classid = 'pg_catalog.pg_rewrite'::pg_catalog.regclass AND r.oid = d.objid JOIN pg_catalog.pg_class c ON c.oid = r.ev_class JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace"
        + where
        + " AND (c.oid <> "
        + oid
        + " OR d.refobjsubid > 0)"
        + " UNION SELECT DISTINCT 'routine ' || n.nspname || '.' || p.proname FROM pg_catalog.pg_depend d JOIN pg_catalog.pg_proc p ON d.classid = 'pg_catalog.pg_proc'::pg_catalog.regclass AND p.oid = d.objid JOIN pg_catalog.pg_namespace n ON n.oid = p.pronamespace"
        + where
        + ") q";
  }
}
