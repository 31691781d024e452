package plenzo.connectors.database.sql;

/** What is asked of the catalogue about schema objects; each takes the schema's name. */
public final class ObjectsSql {
  private ObjectsSql() {}

  private static String member(String catalogue, String oid) {
    return " AND NOT EXISTS (SELECT 1 FROM pg_depend e WHERE e.classid = '"
        + catalogue
        + "'::regclass AND e.objid = "
        + oid
        + " AND e.deptype = 'e')";
  }

  private static String comment(String catalogue, String oid) {
    return " obj_description(" + oid + ", '" + catalogue + "') AS comment";
  }

  public static final String VIEWS =
      "SELECT c.oid, n.nspname AS schema, c.relname AS name, c.relkind, pg_get_viewdef(c.oid) AS body, c.reloptions,"
          + comment("pg_class", "c.oid")
          + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind IN ('v', 'm')"
          + member("pg_class", "c.oid");

  public static final String VIEW_COLUMNS =
      "SELECT c.oid, a.attname AS name, quote_ident(a.attname) AS quoted, format_type(a.atttypid, a.atttypmod) AS type, col_description(c.oid, a.attnum) AS comment, pg_get_expr(d.adbin, d.adrelid) AS default_text"
          + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped LEFT JOIN pg_attrdef d ON d.adrelid = c.oid AND d.adnum = a.attnum"
          + " WHERE n.nspname = ? AND c.relkind IN ('v', 'm') ORDER BY c.oid, a.attnum";

  public static final String VIEW_INDEXES =
      "SELECT c.oid, x.relname AS name, pg_get_indexdef(x.oid) AS definition FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_index i ON i.indrelid = c.oid JOIN pg_class x ON x.oid = i.indexrelid WHERE n.nspname = ? AND c.relkind = 'm'";

  /** What a view does instead of, or beside, what is written to it. */
  public static final String VIEW_RULES =
      "SELECT c.oid, r.rulename AS name, rtrim(pg_get_ruledef(r.oid), ';') AS definition FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_rewrite r ON r.ev_class = c.oid AND r.rulename <> '_RETURN' AND r.ev_enabled = 'O' WHERE n.nspname = ? AND c.relkind = 'v'";

  private static final String ROUTINE =
      "SELECT p.oid, n.nspname AS schema, p.proname AS name, p.prokind, oidvectortypes(p.proargtypes) AS types, pg_get_function_arguments(p.oid) AS arguments, pg_get_function_result(p.oid) AS result,"
          + comment("pg_proc", "p.oid");

  private static final String OF_SCHEMA =
      " JOIN pg_namespace n ON n.oid = p.pronamespace WHERE n.nspname = ?"
          + member("pg_proc", "p.oid");

  /** What makes values of a range comes with its type. */
  public static final String ROUTINES =
      ROUTINE
          + ", pg_get_functiondef(p.oid) AS body FROM pg_proc p"
          + OF_SCHEMA
          + " AND p.prokind <> 'a' AND NOT EXISTS (SELECT 1 FROM pg_depend i WHERE i.classid = 'pg_proc'::regclass AND i.objid = p.oid AND i.deptype = 'i')";

  public static final String AGGREGATES =
      ROUTINE
          + ", format('CREATE AGGREGATE %I.%I(%s) (%s)', n.nspname, p.proname, CASE WHEN p.pronargs = 0 THEN '*' ELSE pg_get_function_arguments(p.oid) END, concat_ws(', ', 'SFUNC = ' || a.aggtransfn::regproc, 'STYPE = ' || format_type(a.aggtranstype, NULL),"
          + " CASE WHEN a.aggtransspace > 0 THEN 'SSPACE = ' || a.aggtransspace END, CASE WHEN a.aggfinalfn <> 0 THEN 'FINALFUNC = ' || a.aggfinalfn::regproc END, CASE WHEN a.aggfinalextra THEN 'FINALFUNC_EXTRA' END,"
          + " CASE WHEN a.aggfinalfn <> 0 THEN 'FINALFUNC_MODIFY = ' || CASE a.aggfinalmodify WHEN 'r' THEN 'READ_ONLY' WHEN 's' THEN 'SHAREABLE' ELSE 'READ_WRITE' END END,"
          + " CASE WHEN a.aggcombinefn <> 0 THEN 'COMBINEFUNC = ' || a.aggcombinefn::regproc END, CASE WHEN a.aggserialfn <> 0 THEN 'SERIALFUNC = ' || a.aggserialfn::regproc END, CASE WHEN a.aggdeserialfn <> 0 THEN 'DESERIALFUNC = ' || a.aggdeserialfn::regproc END,"
          + " 'INITCOND = ' || quote_literal(a.agginitval), CASE WHEN p.proparallel <> 'u' THEN 'PARALLEL = ' || CASE p.proparallel WHEN 's' THEN 'SAFE' ELSE 'RESTRICTED' END END)) AS body FROM pg_proc p JOIN pg_aggregate a ON a.aggfnoid = p.oid"
          + OF_SCHEMA
          + " AND a.aggkind = 'n' AND a.aggmtransfn = 0 AND a.aggsortop = 0";

  public static final String SEQUENCES =
      "SELECT c.oid, n.nspname AS schema, c.relname AS name, format_type(s.seqtypid, NULL) AS type, s.seqstart, s.seqincrement, s.seqmin, s.seqmax, s.seqcache, s.seqcycle,"
          + comment("pg_class", "c.oid")
          + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_sequence s ON s.seqrelid = c.oid WHERE n.nspname = ? AND c.relpersistence = 'p'"
          + " AND NOT EXISTS (SELECT 1 FROM pg_depend d WHERE d.classid = 'pg_class'::regclass AND d.objid = c.oid AND d.refclassid = 'pg_class'::regclass AND d.refobjsubid > 0 AND d.deptype IN ('a', 'i'))"
          + member("pg_class", "c.oid");

  public static final String TRIGGERS =
      "SELECT t.oid, n.nspname AS schema, c.relname AS on_table, t.tgname AS name, pg_get_triggerdef(t.oid) AS body, t.tgenabled,"
          + comment("pg_trigger", "t.oid")
          + " FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND NOT t.tgisinternal AND t.tgparentid = 0 AND NOT c.relispartition AND c.relkind IN ('r', 'p', 'v')"
          + member("pg_trigger", "t.oid");

  public static final String TYPES =
      "SELECT t.oid, n.nspname AS schema, t.typname AS name, t.typtype, CASE WHEN t.typtype = 'd' THEN format_type(t.typbasetype, t.typtypmod) END AS base, t.typnotnull, pg_get_expr(t.typdefaultbin, 0) AS default_text,"
          + " CASE WHEN t.typtype = 'd' AND t.typcollation <> b.typcollation THEN quote_ident(cn.nspname) || '.' || quote_ident(co.collname) END AS collation,"
          + " (SELECT array_remove(ARRAY['SUBTYPE = ' || format_type(r.rngsubtype, NULL), (SELECT 'SUBTYPE_OPCLASS = ' || quote_ident(oc_n.nspname) || '.' || quote_ident(oc.opcname) FROM pg_opclass oc JOIN pg_namespace oc_n ON oc_n.oid = oc.opcnamespace WHERE oc.oid = r.rngsubopc AND NOT oc.opcdefault),"
          + "   (SELECT 'COLLATION = ' || quote_ident(rn.nspname) || '.' || quote_ident(rc.collname) FROM pg_collation rc JOIN pg_namespace rn ON rn.oid = rc.collnamespace JOIN pg_type st ON st.oid = r.rngsubtype WHERE rc.oid = r.rngcollation AND r.rngcollation <> st.typcollation),"
          + "   CASE WHEN r.rngsubdiff <> 0 THEN 'SUBTYPE_DIFF = ' || r.rngsubdiff::regproc END, (SELECT 'MULTIRANGE_TYPE_NAME = ' || quote_ident(mn.nspname) || '.' || quote_ident(m.typname) FROM pg_type m JOIN pg_namespace mn ON mn.oid = m.typnamespace WHERE m.oid = r.rngmultitypid)], NULL)"
          + "   FROM pg_range r WHERE r.rngtypid = t.oid) AS range,"
          + comment("pg_type", "t.oid")
          + " FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace LEFT JOIN pg_class c ON c.oid = t.typrelid LEFT JOIN pg_type b ON b.oid = t.typbasetype LEFT JOIN pg_collation co ON co.oid = t.typcollation LEFT JOIN pg_namespace cn ON cn.oid = co.collnamespace"
          + " WHERE n.nspname = ? AND (t.typtype IN ('d', 'e') OR t.typtype = 'c' AND c.relkind = 'c' OR t.typtype = 'r' AND EXISTS (SELECT 1 FROM pg_range r WHERE r.rngtypid = t.oid AND r.rngcanonical = 0))"
          + member("pg_type", "t.oid");

  public static final String ENUM_LABELS =
      "SELECT t.oid, e.enumlabel AS label FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace JOIN pg_enum e ON e.enumtypid = t.oid WHERE n.nspname = ? ORDER BY t.oid, e.enumsortorder";

  public static final String ATTRIBUTES =
      "SELECT t.oid, a.attname AS name, quote_ident(a.attname) AS quoted, format_type(a.atttypid, a.atttypmod) AS type, col_description(c.oid, a.attnum) AS comment,"
          + " CASE WHEN a.attcollation <> 0 AND a.attcollation <> y.typcollation THEN quote_ident(cn.nspname) || '.' || quote_ident(co.collname) END AS collation"
          + " FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace JOIN pg_class c ON c.oid = t.typrelid AND c.relkind = 'c' JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped JOIN pg_type y ON y.oid = a.atttypid"
          + " LEFT JOIN pg_collation co ON co.oid = a.attcollation LEFT JOIN pg_namespace cn ON cn.oid = co.collnamespace WHERE n.nspname = ? ORDER BY t.oid, a.attnum";

  public static final String DOMAIN_CHECKS =
      "SELECT t.oid, k.conname AS name, pg_get_constraintdef(k.oid) AS definition FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace JOIN pg_constraint k ON k.contypid = t.oid WHERE n.nspname = ? AND k.contype = 'c'";

  public static final String POLICIES =
      "SELECT p.oid, n.nspname AS schema, c.relname AS on_table, p.polname AS name, p.polcmd, p.polpermissive, pg_get_expr(p.polqual, p.polrelid) AS using_text, pg_get_expr(p.polwithcheck, p.polrelid) AS check_text,"
          + " (SELECT string_agg(CASE WHEN r = 0 THEN 'PUBLIC' ELSE quote_ident(pg_get_userbyid(r)) END, ', ' ORDER BY CASE WHEN r = 0 THEN '' ELSE pg_get_userbyid(r)::text END) FROM unnest(p.polroles) r) AS roles,"
          + comment("pg_policy", "p.oid")
          + " FROM pg_policy p JOIN pg_class c ON c.oid = p.polrelid AND NOT c.relispartition JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ?";

  /**
   * What objects of a schema depend on: the object, then class, id and part of what it needs. What
   * hangs on a view's rule or index, on a domain's check and on a composite type's attributes
   * counts as its own.
   */
  public static final String NEEDS =
      "WITH mine(oid, class, id) AS ("
          + "SELECT c.oid, 'pg_rewrite'::regclass::oid, r.oid FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace AND n.nspname = ?1 JOIN pg_rewrite r ON r.ev_class = c.oid WHERE c.relkind IN ('v', 'm')"
          + " UNION ALL SELECT c.oid, 'pg_class'::regclass::oid, i.indexrelid FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace AND n.nspname = ?1 JOIN pg_index i ON i.indrelid = c.oid WHERE c.relkind = 'm'"
          + " UNION ALL SELECT c.oid, 'pg_attrdef'::regclass::oid, d.oid FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace AND n.nspname = ?1 JOIN pg_attrdef d ON d.adrelid = c.oid WHERE c.relkind = 'v'"
          + " UNION ALL SELECT c.oid, 'pg_class'::regclass::oid, c.oid FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace AND n.nspname = ?1 WHERE c.relkind IN ('v', 'm')"
          + " UNION ALL SELECT p.oid, 'pg_proc'::regclass::oid, p.oid FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace AND n.nspname = ?1"
          + " UNION ALL SELECT t.oid, 'pg_trigger'::regclass::oid, t.oid FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace AND n.nspname = ?1 WHERE NOT t.tgisinternal"
          + " UNION ALL SELECT p.oid, 'pg_policy'::regclass::oid, p.oid FROM pg_policy p JOIN pg_class c ON c.oid = p.polrelid JOIN pg_namespace n ON n.oid = c.relnamespace AND n.nspname = ?1"
          + " UNION ALL SELECT t.oid, 'pg_type'::regclass::oid, t.oid FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace AND n.nspname = ?1 WHERE t.typtype IN ('d', 'r')"
          + " UNION ALL SELECT t.oid, 'pg_class'::regclass::oid, c.oid FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace AND n.nspname = ?1 JOIN pg_class c ON c.oid = t.typrelid AND c.relkind = 'c'"
          + " UNION ALL SELECT t.oid, 'pg_constraint'::regclass::oid, k.oid FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace AND n.nspname = ?1 JOIN pg_constraint k ON k.contypid = t.oid)"
          + " SELECT DISTINCT m.oid, d.refclassid::regclass::text AS class, d.refobjid AS id, d.refobjsubid AS part FROM mine m JOIN pg_depend d ON d.classid = m.class AND d.objid = m.id WHERE d.refobjid <> m.oid AND d.deptype IN ('n', 'a', 'i') ORDER BY 1, 2, 3, 4";

  /** Relations by id: kind, schema, name; of an owned sequence the table that owns it. */
  public static final String RELATIONS =
      "SELECT c.oid, c.relkind, n.nspname AS schema, c.relname AS name, o.nspname AS owner_schema, o.relname AS owner"
          + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace LEFT JOIN LATERAL (SELECT tn.nspname, t.relname FROM pg_depend d JOIN pg_class t ON t.oid = d.refobjid JOIN pg_namespace tn ON tn.oid = t.relnamespace"
          + " WHERE d.classid = 'pg_class'::regclass AND d.objid = c.oid AND d.refclassid = 'pg_class'::regclass AND d.refobjsubid > 0 AND d.deptype IN ('a', 'i')) o ON c.relkind = 'S' WHERE c.oid = ANY (?)";

  /** Types by id: the component whose type it is; of an array that of its elements. */
  public static final String TYPES_BY_ID =
      "SELECT t.oid, e.typtype, c.relkind, n.nspname AS schema, e.typname AS name FROM pg_type t"
          + " LEFT JOIN pg_range mr ON mr.rngmultitypid = t.oid JOIN pg_type e ON e.oid = CASE WHEN t.typtype = 'm' THEN mr.rngtypid WHEN t.typelem <> 0 AND t.typtype = 'b' AND EXISTS (SELECT 1 FROM pg_type x WHERE x.typarray = t.oid) THEN t.typelem ELSE t.oid END"
          + " JOIN pg_namespace n ON n.oid = e.typnamespace LEFT JOIN pg_class c ON c.oid = e.typrelid WHERE t.oid = ANY (?)";

  public static final String ROUTINES_BY_ID =
      "SELECT p.oid, n.nspname AS schema, p.proname AS name, oidvectortypes(p.proargtypes) AS types FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace WHERE p.oid = ANY (?)";

  public static final String CONSTRAINTS_BY_ID =
      "SELECT k.oid, n.nspname AS schema, c.relname AS name, k.conname FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE k.oid = ANY (?)";

  public static final String COLUMNS_BY_ID =
      "SELECT a.attrelid AS oid, a.attnum, a.attname FROM pg_attribute a WHERE a.attrelid = ANY (?) AND a.attnum > 0";

  /** Extensions with the schema in which their members are. */
  public static final String EXTENSIONS =
      "SELECT e.extname, n.nspname, e.extversion FROM pg_extension e JOIN pg_namespace n ON n.oid = e.extnamespace ORDER BY 1";

  /** Extensions of whose members columns, defaults, constraints or indexes of tables are made. */
  public static final String EXTENSIONS_OF_TABLES =
      "WITH t AS (SELECT to_regclass(x)::oid AS oid FROM unnest(?::text[]) x),"
          + " parts(class, id) AS (SELECT 'pg_class'::regclass::oid, oid FROM t"
          + " UNION ALL SELECT 'pg_class'::regclass::oid, i.indexrelid FROM t JOIN pg_index i ON i.indrelid = t.oid"
          + " UNION ALL SELECT 'pg_attrdef'::regclass::oid, d.oid FROM t JOIN pg_attrdef d ON d.adrelid = t.oid"
          + " UNION ALL SELECT 'pg_constraint'::regclass::oid, k.oid FROM t JOIN pg_constraint k ON k.conrelid = t.oid)"
          + " SELECT DISTINCT e.extname FROM parts p JOIN pg_depend d ON d.classid = p.class AND d.objid = p.id JOIN pg_depend m ON m.classid = d.refclassid AND m.objid = d.refobjid AND m.deptype = 'e' JOIN pg_extension e ON e.oid = m.refobjid AND m.refclassid = 'pg_extension'::regclass ORDER BY 1";

  /** Members of extensions by class and id, with the extension. */
  public static final String EXTENSIONS_BY_ID =
      "SELECT d.classid::regclass::text AS class, d.objid AS id, e.extname FROM pg_depend d JOIN pg_extension e ON e.oid = d.refobjid WHERE d.refclassid = 'pg_extension'::regclass AND d.deptype = 'e' AND d.objid = ANY (?)";
}
