package plenzo.core.item;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;

/**
 * A component of one piece as a target holds it.
 *
 * @param content digest of kind and canonical content
 * @param size bytes as people count them: of a file itself, of a definition as a document
 * @param seal changes whenever the target's copy does; compared in the switch, means nothing
 *     elsewhere
 * @param active whether it is switched on; null where there is no such state
 * @param visible whether people can reach it; null where the target does not tell
 * @param unbound names of inputs that have no value there
 * @param refusal why it cannot be carried; empty when it can
 */
public record ItemSeen(
    ComponentKey key,
    Digest content,
    long size,
    String seal,
    @Nullable Boolean active,
    @Nullable Boolean visible,
    List<String> unbound,
    String refusal) {
  public ItemSeen {
    unbound = List.copyOf(unbound);
  }
}
