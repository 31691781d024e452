package plenzo.connectors.database;

import java.util.stream.Collectors;
import java.util.stream.Stream;
import plenzo.core.table.Printed;

/** Everything that stands in the schema "fares", a line each, asked beside the connector's ways. */
public final class Judge {
  private Judge() {}

  private static final String NS = "'fares'::regnamespace";

  /**
   * The answer in lines, each in the words in which a server prints what it printed before: some
   * are other ones the first time.
   */
  public static String lines(String answer) {
    return Stream.of(answer.split(" ;; ", -1)).map(Printed::of).collect(Collectors.joining("\n"));
  }

  public static final String EVERYTHING =
      "SELECT string_agg(line, ' ;; ' ORDER BY line COLLATE \"C\") FROM ("
          + "SELECT 'relation ' || c.relkind::text || ' ' || c.relname || ' ' || c.relpersistence::text || ' ' || coalesce(c.reloptions::text, '') || ' ' || c.relrowsecurity || c.relforcerowsecurity || ' ' || coalesce(obj_description(c.oid, 'pg_class'), '') || ' ' || coalesce((SELECT string_agg(g.grantee::regrole::text || g.privilege_type || g.is_grantable, ',' ORDER BY g.grantee::regrole::text, g.privilege_type) FROM aclexplode(c.relacl) g WHERE g.grantee <> c.relowner), '') AS line FROM pg_class c WHERE c.relnamespace = "
          + NS
          + " AND c.relkind <> 'i'"
          + " UNION ALL SELECT 'column ' || a.attrelid::regclass || '.' || a.attname || ' ' || CASE WHEN c.relkind IN ('v', 'm', 'c') THEN a.attnum::text || ' ' ELSE '' END || format_type(a.atttypid, a.atttypmod) || ' ' || a.attnotnull || a.attidentity::text || a.attgenerated::text || ' ' || coalesce(pg_get_expr(d.adbin, d.adrelid), '') || ' ' || a.attcollation || ' ' || coalesce(col_description(c.oid, a.attnum), '') FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid LEFT JOIN pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum WHERE c.relnamespace = "
          + NS
          + " AND c.relkind IN ('r', 'v', 'm', 'c', 'p') AND a.attnum > 0 AND NOT a.attisdropped"
          + " UNION ALL SELECT 'right to ' || a.attrelid::regclass || '.' || a.attname || ' ' || (SELECT string_agg(g.grantee::regrole::text || g.privilege_type || g.is_grantable, ',' ORDER BY g.grantee::regrole::text, g.privilege_type) FROM aclexplode(a.attacl) g WHERE g.grantee <> c.relowner) FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid WHERE a.attacl IS NOT NULL AND NOT a.attisdropped AND c.relnamespace = "
          + NS
          + " UNION ALL SELECT 'inherits ' || inhrelid::regclass || ' ' || string_agg(inhparent::regclass::text, ', ' ORDER BY inhseqno) FROM pg_inherits JOIN pg_class c ON c.oid = inhrelid WHERE c.relkind = 'r' AND NOT c.relispartition AND c.relnamespace = "
          + NS
          + " GROUP BY inhrelid"
          + " UNION ALL SELECT 'handed ' || a.attrelid::regclass || '.' || a.attname || ' ' || a.attislocal || ' ' || a.attinhcount FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid WHERE c.relkind = 'r' AND NOT c.relispartition AND a.attnum > 0 AND NOT a.attisdropped AND c.relnamespace = "
          + NS
          + " UNION ALL SELECT 'handed ' || k.conrelid::regclass || ' ' || k.conname || ' ' || k.conislocal || ' ' || k.coninhcount FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid WHERE c.relkind = 'r' AND NOT c.relispartition AND k.contype = 'c' AND k.connamespace = "
          + NS
          + " UNION ALL SELECT 'constraint ' || coalesce(nullif(k.conrelid, 0)::regclass::text, k.contypid::regtype::text) || ' ' || k.conname || ' ' || pg_get_constraintdef(k.oid) || k.convalidated FROM pg_constraint k WHERE k.connamespace = "
          + NS
          + " UNION ALL SELECT 'index ' || pg_get_indexdef(i.indexrelid) || ' ' || i.indisvalid FROM pg_index i JOIN pg_class c ON c.oid = i.indexrelid WHERE c.relnamespace = "
          + NS
          + " UNION ALL SELECT 'view ' || c.relname || ' ' || pg_get_viewdef(c.oid) FROM pg_class c WHERE c.relnamespace = "
          + NS
          + " AND c.relkind IN ('v', 'm')"
          + " UNION ALL SELECT 'rule ' || pg_get_ruledef(r.oid) FROM pg_rewrite r JOIN pg_class c ON c.oid = r.ev_class WHERE c.relnamespace = "
          + NS
          + " AND r.rulename <> '_RETURN'"
          + " UNION ALL SELECT 'set ' || c.relname || ' ' || c.relreplident::text || ' ' || (SELECT string_agg(concat_ws(' ', a.attname || coalesce(a.attstattarget, -1), a.attstorage, a.attcompression, (SELECT string_agg(o, ',') FROM unnest(a.attoptions) o WHERE o NOT LIKE 'pg\\_%')), ',' ORDER BY a.attname) FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped) || coalesce((SELECT string_agg(pg_get_statisticsobjdef(s.oid), ',' ORDER BY s.stxname) FROM pg_statistic_ext s WHERE s.stxrelid = c.oid), '') FROM pg_class c WHERE c.relkind = 'r' AND c.relnamespace = "
          + NS
          + " UNION ALL SELECT 'said ' || o.what || ' ' || d.description FROM (SELECT 'pg_constraint'::regclass AS cat, k.oid, k.conname::text AS what FROM pg_constraint k UNION ALL SELECT 'pg_class'::regclass, c.oid, c.relname::text FROM pg_class c WHERE c.relkind = 'i') o JOIN pg_description d ON d.classoid = o.cat AND d.objoid = o.oid AND d.objsubid = 0 AND EXISTS (SELECT 1 FROM pg_class x WHERE x.relnamespace = "
          + NS
          + ")"
          + " UNION ALL SELECT 'trigger ' || pg_get_triggerdef(t.oid) || ' ' || t.tgenabled::text || ' ' || coalesce(obj_description(t.oid, 'pg_trigger'), '') FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid WHERE c.relnamespace = "
          + NS
          + " AND NOT t.tgisinternal"
          + " UNION ALL SELECT 'routine ' || p.oid::regprocedure || ' ' || CASE WHEN p.prokind = 'a' THEN (SELECT a.aggtransfn || ' ' || a.aggtranstype::regtype || ' ' || coalesce(a.agginitval, '') || ' ' || a.aggfinalfn FROM pg_aggregate a WHERE a.aggfnoid = p.oid) ELSE pg_get_functiondef(p.oid) END || ' ' || coalesce(obj_description(p.oid, 'pg_proc'), '') || ' ' || coalesce((SELECT string_agg(CASE g.grantee WHEN 0 THEN 'PUBLIC' ELSE g.grantee::regrole::text END || g.is_grantable, ',' ORDER BY g.grantee::regrole::text) FROM aclexplode(coalesce(p.proacl, acldefault('f', p.proowner))) g WHERE g.grantee <> p.proowner), '') FROM pg_proc p WHERE p.pronamespace = "
          + NS
          + " UNION ALL SELECT 'sequence ' || s.seqrelid::regclass || ' ' || concat_ws(' ', s.seqtypid::regtype, s.seqstart, s.seqincrement, s.seqmin, s.seqmax, s.seqcache, s.seqcycle) FROM pg_sequence s JOIN pg_class c ON c.oid = s.seqrelid WHERE c.relnamespace = "
          + NS
          + " UNION ALL SELECT 'type ' || t.typname || ' ' || concat_ws(' ', t.typtype::text, format_type(t.typbasetype, t.typtypmod), t.typnotnull, t.typdefault, (SELECT string_agg(e.enumlabel, ',' ORDER BY e.enumsortorder) FROM pg_enum e WHERE e.enumtypid = t.oid), (SELECT rngsubtype::regtype::text || ' ' || rngsubdiff::text FROM pg_range r WHERE r.rngtypid = t.oid), obj_description(t.oid, 'pg_type')) FROM pg_type t WHERE t.typnamespace = "
          + NS
          + " AND t.typtype IN ('d', 'e', 'r', 'c')"
          + " UNION ALL SELECT 'policy ' || p.polrelid::regclass || ' ' || p.polname || ' ' || concat_ws(' ', p.polcmd::text, p.polpermissive, p.polroles::text, pg_get_expr(p.polqual, p.polrelid), pg_get_expr(p.polwithcheck, p.polrelid)) FROM pg_policy p JOIN pg_class c ON c.oid = p.polrelid WHERE c.relnamespace = "
          + NS
          + ") all_of_it";
}
