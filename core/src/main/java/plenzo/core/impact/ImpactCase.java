package plenzo.core.impact;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.inventory.NamedThings;
import plenzo.core.inventory.Uncarried;
import plenzo.core.object.SchemaObject;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.RowsPolicy;
import plenzo.core.table.Exchanges;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Grants;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;

/**
 * What the rules look at: one comparison, what would be written, and a way to ask the target.
 *
 * @param decisions decided conflicts
 * @param tables every table of the target's schemas as it is now
 * @param objects every schema object there as it is now
 * @param uncarried what else stands in those schemas and is not carried
 * @param told what the version tells beside its content
 */
public record ImpactCase(
    List<ComponentResult> components,
    Map<String, Decision> decisions,
    TablesDelta delta,
    Map<TableName, TableStructure> tables,
    Map<ComponentKey, SchemaObject> objects,
    List<Uncarried> uncarried,
    Rows rows,
    Asking target,
    Told told) {

  /** Of which a version tells nothing more. */
  public ImpactCase(
      List<ComponentResult> components,
      Map<String, Decision> decisions,
      TablesDelta delta,
      Map<TableName, TableStructure> tables,
      Map<ComponentKey, SchemaObject> objects,
      List<Uncarried> uncarried,
      Rows rows,
      Asking target) {
    this(components, decisions, delta, tables, objects, uncarried, rows, target, Told.NOTHING);
  }

  /**
   * What the version tells beside its content.
   *
   * @param renaming tables and columns that have another name in it
   * @param there tables that are at the site, by the names that they have now
   * @param exchanges tells of names that change places among themselves whether they did there
   * @param comes tables that the version has
   * @param policies of its rows, where they are not the ordinary one
   */
  public record Told(
      Renaming renaming,
      Function<TableName, Optional<TableStructure>> there,
      Exchanges exchanges,
      Function<TableName, Optional<TableStructure>> comes,
      Map<ComponentKey, RowsPolicy> policies) {
    public static final Told NOTHING =
        new Told(
            Renaming.NONE,
            t -> Optional.empty(),
            Exchanges.all(Exchanges.Progress.NOT_KNOWN),
            t -> Optional.empty(),
            Map.of());
  }

  /** Reads row differences of a component and class, at most {@code limit} of them. */
  public interface Rows {
    void each(
        ComponentKey component, Difference difference, int limit, Consumer<RowDifference> row);
  }

  /** Asks the target's engine. */
  public interface Asking {
    Question.Answer answer(Question question);

    /** Those of the names that nothing has there. */
    default Set<NamedThings.Name> absent(Set<NamedThings.Name> names) {
      return Set.of();
    }

    /** Whether the account for looking reads all rows, whatever row security says. */
    default boolean readsAllRows() {
      return false;
    }

    /** Those of the roles that the server does not have. */
    default Set<String> lackedRoles(Set<String> roles) {
      return Set.of();
    }

    /** Those of the roles that may not enter a schema; such as are not there are left out. */
    default Set<String> shutOut(String schema, Set<String> roles) {
      return Set.of();
    }

    /** Who may use what is in a schema. */
    default Grants grants(String schema) {
      return Grants.NONE;
    }

    /** The account that makes what comes; empty where it is not known. */
    default String maker() {
      return "";
    }

    /** Extensions that the database has. */
    default Set<String> extensions() {
      return Set.of();
    }
  }

  /** Every table as it will be. */
  public Map<TableName, TableStructure> after() {
    return delta.after(tables);
  }

  public Optional<TablesDelta.TableDelta> delta(TableName table) {
    return delta.find(table);
  }

  /** Decision of a conflict: of the part, else of the whole component; null while undecided. */
  public @Nullable Decision decision(ComponentKey component, String part) {
    return decisions.getOrDefault(component + "#" + part, decisions.get(component.toString()));
  }
}
