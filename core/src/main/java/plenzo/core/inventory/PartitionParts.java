package plenzo.core.inventory;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.Renaming;
import plenzo.core.table.Setting;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/**
 * Constraints and indexes that a partition has by itself and that become part of those of its table
 * when this gets the same: the server joins them instead of making others, and takes both away
 * together later.
 */
public final class PartitionParts {
  /**
   * One that is joined.
   *
   * @param part what the partition had by itself
   * @param partition that it is of
   * @param to the constraint or index of the table
   */
  public record Joined(Uncarried part, TableName partition, StructureChange to) {}

  private PartitionParts() {}

  /** What the plan makes part of something of a table, of what stands at the site. */
  public static List<Joined> joined(TablesDelta delta, Collection<Uncarried> there) {
    List<Joined> out = new ArrayList<>();
    for (TablesDelta.TableDelta t : delta.tables()) {
      TableStructure present = t.present();
      TableStructure result = t.result();
      if (present == null || result == null || present.partitions().isEmpty()) {
        continue;
      }
      List<TableName> partitions =
          present.partitions().stream()
              .filter(s -> result.setting(s.name()).isPresent())
              .map(s -> TableName.of(s.name().substring(Setting.PARTITION.length())))
              .toList();
      for (StructureChange c : StructureChange.between(t.table(), present, result)) {
        for (TableName partition : partitions) {
          part(c, partition, there).ifPresent(u -> out.add(new Joined(u, partition, c)));
        }
      }
    }
    return out;
  }

  /** Names of what is then no part of a partition alone, with the indexes under constraints. */
  static Set<String> names(TablesDelta delta, Collection<Uncarried> there) {
    Set<String> out = new HashSet<>();
    for (Joined j : joined(delta, there)) {
      out.add(j.part().shown());
      out.add(j.part().shown().replaceFirst("^constraint ", "index "));
    }
    return out;
  }

  private static Optional<Uncarried> part(
      StructureChange c, TableName partition, Collection<Uncarried> there) {
    String end = " of partition " + partition;
    return there.stream()
        .filter(u -> u.sort() == Uncarried.Sort.OTHER && u.name().endsWith(end))
        .filter(
            u -> isSame(c, partition, u, u.name().substring(0, u.name().length() - end.length())))
        .findFirst();
  }

  private static boolean isSame(StructureChange c, TableName partition, Uncarried u, String part) {
    String constraint = "constraint ";
    String index = "index ";
    return switch (c.act()) {
      case ADD_CONSTRAINT, ADD_FOREIGN_KEY -> {
        Constraint k = Objects.requireNonNull(c.constraint());
        // of checks those alone are joined that have the same name
        boolean named = k.type() != Constraint.Type.CHECK || part.equals(constraint + k.name());
        yield named && part.startsWith(constraint) && u.digest().equals(digest(k.definition()));
      }
      case ADD_INDEX ->
          part.startsWith(index)
              && u.digest()
                  .equals(
                      digest(
                          definition(
                              Objects.requireNonNull(c.index()),
                              part.substring(index.length()),
                              partition)));
      default -> false;
    };
  }

  /** The index as the server prints it where it is of a partition. */
  private static String definition(Index index, String name, TableName partition) {
    String all = index.definition();
    int using = all.indexOf(" USING ");
    return "CREATE "
        + (index.unique() ? "UNIQUE " : "")
        + "INDEX "
        + Renaming.quoted(name)
        + " ON "
        + Renaming.quoted(partition.schema())
        + "."
        + Renaming.quoted(partition.table())
        + (using < 0 ? "" : all.substring(using));
  }

  private static String digest(String text) {
    return Digest.of(text).hex();
  }
}
