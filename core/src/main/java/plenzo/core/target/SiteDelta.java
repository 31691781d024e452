package plenzo.core.target;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.words.Words;

/**
 * Everything that a run changes at a site. Targets that can be switched back without loss are
 * switched first, the database last, so that a run never has to take rows back.
 */
public record SiteDelta(TablesDelta tables, Map<Holder, ItemsDelta> items) {
  /** The order of the switches. */
  public static final List<Holder> ORDER = List.of(Holder.DIRECTORY, Holder.HOST, Holder.DATABASE);

  public SiteDelta {
    items = Map.copyOf(items);
  }

  /** What changes there; null where the site has no such target. */
  public @Nullable Delta of(Holder holder) {
    return holder == Holder.DATABASE ? tables : items.get(holder);
  }

  /** Targets that are written to, in the order of the switches. */
  public List<Holder> touched() {
    return ORDER.stream().filter(this::touches).toList();
  }

  private boolean touches(Holder holder) {
    Delta delta = of(holder);
    return delta != null && !delta.isEmpty();
  }

  public boolean isEmpty() {
    return touched().isEmpty();
  }

  private Stream<Delta> all() {
    return touched().stream().<Delta>map(h -> Objects.requireNonNull(of(h)));
  }

  public long writes() {
    return all().mapToLong(Delta::writes).sum();
  }

  public Collection<ItemsDelta> itemDeltas() {
    return items.values();
  }

  /** What it would write, a line for each place. */
  public List<String> places() {
    List<String> out = new ArrayList<>();
    for (TablesDelta.TableDelta t : tables.tables()) {
      if (t.structureChanges() || tables.renaming().touches(t.table())) {
        out.add("table/" + t.table() + ": its structure");
      }
      if (t.rows() != null && t.rows().total() > 0) {
        out.add("records/" + t.table() + ": " + Words.count(t.rows().total(), "row"));
      }
    }
    tables.changedObjects().forEach(o -> out.add(o.key().toString()));
    for (ItemsDelta d : items.values()) {
      d.changes().forEach(c -> out.add(c.key().toString()));
    }
    return out;
  }

  /** "3 rows, 1 file and 2 definitions". */
  public String words() {
    List<String> parts = all().flatMap(d -> d.parts().stream()).toList();
    return parts.isEmpty() ? "nothing" : Words.and(parts);
  }
}
