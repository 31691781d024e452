package plenzo.engine.rehearsing;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.digest.RowSum;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.target.TableCapture;
import plenzo.engine.setup.RowKeys;
import plenzo.engine.setup.SiteLook;

/** All that copies hold at one moment, by digests. */
record Measured(Map<String, String> content) {
  /**
   * @param schemas whose every table is read: what came and was left there is found too
   * @param space the application's name space
   */
  static Measured of(SiteLook look, Collection<String> schemas, String space, Runnable alive) {
    Map<String, String> out = new TreeMap<>();
    List<TableName> tables =
        look.findTables().stream()
            .flatMap(looking -> schemas.stream().flatMap(s -> looking.tables(s).stream()))
            .toList();
    for (TableName t : tables) {
      TableCapture c = look.findTables().flatMap(looking -> looking.table(t)).orElse(null);
      if (c == null) {
        continue;
      }
      out.put("table/" + t, Digest.of(c.structure().canonical()).hex());
      RowSum sum = new RowSum();
      List<String> key = RowKeys.own(c.structure());
      // a column that came back stands behind the others: rows are read by their columns' names
      try (RowReader rows =
          key.isEmpty()
              ? look.tables().allRows(t, List.of())
              : look.tables().rows(new RecordsDefinition(t, key, null), null)) {
        for (Row row = rows.next(); row != null; row = rows.next()) {
          sum.add(row.raw());
          if (sum.count() % 10_000 == 0) {
            alive.run();
          }
        }
      }
      out.put("records/" + t, sum.count() + " rows " + sum.digest().hex());
    }
    look.wholes(
        (holder, all) ->
            all.inventory(space, seen -> out.put(seen.key().toString(), seen.content().hex())));
    return new Measured(out);
  }

  /** Places at which the other holds something else. */
  List<String> differing(Measured other) {
    Set<String> all = new TreeSet<>(content.keySet());
    all.addAll(other.content.keySet());
    List<String> out = new ArrayList<>();
    for (String place : all) {
      if (!Objects.equals(content.get(place), other.content.get(place))) {
        out.add(place);
      }
    }
    return out;
  }
}
