package plenzo.engine.comparing;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.drift.Differing;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.table.PartDifference;
import plenzo.core.table.StructureComparison;
import plenzo.core.table.TableStructure;

/** What a comparison found, part by part: what is there against what is incoming. */
public final class Differences {
  private static final List<Difference> DIFFERING =
      List.of(
          Difference.CONFLICT,
          Difference.REMOVED,
          Difference.CHANGED,
          Difference.ADDED,
          Difference.KEPT);

  private final Compared compared;
  private final Incoming incoming;

  /**
   * @param incoming the side that the comparison was made with
   */
  public Differences(Compared compared, Incoming incoming) {
    this.compared = compared;
    this.incoming = incoming;
  }

  /** Structures, files and definitions, and what of the name space the incoming side lacks. */
  public void parts(String space, Consumer<Differing> sink) {
    for (ComponentResult c : compared.components()) {
      if (c.key().kind() == Kind.TABLE) {
        structure(c, sink);
      } else if (c.key().kind().whole()) {
        item(c, sink);
      }
    }
    Set<ComponentKey> known = new TreeSet<>(incoming.components());
    compared.tables().keySet().stream()
        .filter(t -> t.schema().equals(space))
        .map(t -> new ComponentKey(Kind.TABLE, t.componentName()))
        .filter(key -> !known.contains(key))
        .sorted()
        .forEach(key -> sink.accept(onlyThere(key)));
    compared.items().onlyThere().forEach(key -> sink.accept(onlyThere(key)));
  }

  private static Differing onlyThere(ComponentKey key) {
    return new Differing(key, "", Differing.How.ONLY_THERE, List.of());
  }

  private void structure(ComponentResult c, Consumer<Differing> sink) {
    @Nullable TableStructure there = compared.tables().get(TableName.of(c.key().name()));
    TableStructure comes = incoming.structure(c.key());
    for (PartDifference p : c.parts()) {
      if (p.difference() != Difference.SAME) {
        sink.accept(
            new Differing(
                c.key(),
                p.path(),
                Differing.How.of(
                    StructureComparison.has(there, p), StructureComparison.has(comes, p)),
                p.attributes()));
      }
    }
  }

  private void item(ComponentResult c, Consumer<Differing> sink) {
    boolean there = compared.items().present().containsKey(c.key());
    boolean comes = incoming.item(c.key()) != null;
    if (c.difference() != Difference.SAME && (there || comes)) {
      sink.accept(
          new Differing(
              c.key(),
              "",
              Differing.How.of(there, comes),
              c.parts().stream().flatMap(p -> p.attributes().stream()).toList()));
    }
  }

  /** Rows, table by table, in the order of their keys. */
  public void rows(Consumer<Differing> sink) {
    for (int n = 0; n < compared.components().size(); n++) {
      ComponentKey key = compared.components().get(n).key();
      if (key.kind() != Kind.RECORDS) {
        continue;
      }
      try (ComparisonFiles.Merged all = compared.files().merged(compared.id(), n, DIFFERING)) {
        for (RowDifference row = all.next(); row != null; row = all.next()) {
          sink.accept(
              new Differing(
                  key,
                  "row/" + row.any().keyLine(),
                  Differing.How.of(row.present() != null, row.incoming() != null),
                  row.attributes()));
        }
      }
    }
  }
}
