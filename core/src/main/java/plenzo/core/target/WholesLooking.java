package plenzo.core.target;

import java.io.InputStream;
import java.util.function.Consumer;
import plenzo.core.component.ComponentKey;
import plenzo.core.item.ItemSeen;

/** A look at what holds components of one piece: a directory, an application host, a schema. */
public interface WholesLooking {
  /**
   * Everything that belongs to the application, in the order of its names.
   *
   * @param scope the application's name space: first folder of a path, text before the first dot of
   *     a definition's name, the schema
   */
  void inventory(String scope, Consumer<ItemSeen> sink);

  /**
   * The canonical content, which the caller closes.
   *
   * @throws TargetFailed when it is not there (any more)
   */
  InputStream read(ComponentKey key);
}
