package plenzo.engine.backup;

import java.nio.charset.StandardCharsets;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;

/** Every structure and schema object of some schemas, as a look sees them. */
record Whole(Map<TableName, TableStructure> tables, Map<ComponentKey, SchemaObject> objects) {
  /**
   * @param grants also what roles may do
   */
  Whole(TablesLooking looking, Collection<String> schemas, boolean grants) {
    this(new LinkedHashMap<>(), new TreeMap<>());
    for (String schema : schemas) {
      for (TableName t : looking.tables(schema)) {
        looking.table(t).map(TableCapture::structure).ifPresent(s -> tables.put(t, s));
      }
      looking.objects(schema).forEach(o -> objects.put(o.key(), o));
      if (grants) {
        looking.granted(schema).forEach(o -> objects.put(o.key(), o));
      }
    }
  }

  /** Canonical content of one of them. */
  byte[] content(ComponentKey key) {
    return key.kind() == Kind.TABLE
        ? Objects.requireNonNull(tables.get(TableName.of(key.name())))
            .canonical()
            .getBytes(StandardCharsets.UTF_8)
        : Objects.requireNonNull(objects.get(key)).canonical();
  }
}
