package plenzo.core.target;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import plenzo.core.component.TableName;
import plenzo.core.inventory.Uncarried;
import plenzo.core.object.SchemaObject;

/** A database in which the name space of an application is more than the schema of that name. */
public final class SpacesLooking extends ForwardedLooking {
  private final Map<String, List<String>> further;

  /**
   * @param further schemas beside the one that is called like the space, by space
   */
  public SpacesLooking(TablesLooking there, Map<String, List<String>> further) {
    super(there);
    this.further = Map.copyOf(further);
  }

  @Override
  public List<String> schemas(String space) {
    List<String> out = new ArrayList<>(List.of(space));
    out.addAll(further.getOrDefault(space, List.of()));
    return out;
  }

  private <T> List<T> all(String space, Function<String, List<T>> of) {
    return schemas(space).stream().flatMap(schema -> of.apply(schema).stream()).toList();
  }

  @Override
  public List<TableName> tables(String schema) {
    return all(schema, there::tables);
  }

  @Override
  public List<Uncarried> uncarried(String schema) {
    return all(schema, there::uncarried);
  }

  @Override
  public List<SchemaObject> objects(String schema) {
    return all(schema, there::objects);
  }

  @Override
  public List<SchemaObject> granted(String schema) {
    return all(schema, there::granted);
  }
}
