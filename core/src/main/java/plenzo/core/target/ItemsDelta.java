package plenzo.core.target;

import java.io.InputStream;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.words.Words;

/**
 * Everything that a run changes in a directory or an application host.
 *
 * @param changes in the order in which they are written
 * @param owned names of components that a version owns and that stay as they are, with the seal
 *     under which they were read
 * @param bindings values of inputs that the host is given with the switch, by input name
 * @param source opens the incoming content
 */
public record ItemsDelta(
    List<Change> changes,
    Map<ComponentKey, String> owned,
    Map<String, Binding> bindings,
    Source source)
    implements Delta {
  public ItemsDelta {
    changes = List.copyOf(changes);
    owned = Map.copyOf(owned);
    bindings = Map.copyOf(bindings);
  }

  /**
   * One component that is added, changed or removed.
   *
   * @param present digest of what the plan read, null when there was nothing
   * @param seal under which it was read, null when there was nothing
   * @param incoming digest of what comes, null when it goes
   * @param size bytes of the incoming canonical content
   * @param activate whether the plan switches it on; otherwise a new one arrives off and an
   *     existing one keeps its state
   */
  public record Change(
      ComponentKey key,
      Difference act,
      @Nullable Digest present,
      @Nullable String seal,
      @Nullable Digest incoming,
      long size,
      boolean activate) {
    /** One that comes where nothing is, and arrives off. */
    public static Change coming(ComponentKey key, Digest incoming) {
      return new Change(
          key,
          Difference.ADDED,
          /* present= */ null,
          /* seal= */ null,
          incoming,
          /* size= */ 0,
          /* activate= */ false);
    }
  }

  /**
   * The value of an input; a secret one never appears in its text form.
   *
   * @param value null when the host is to forget the one it has
   */
  public record Binding(@Nullable String value, boolean secret) {
    public static final Binding FORGET = new Binding(null, false);

    @Override
    public String toString() {
      return secret ? "(secret)" : String.valueOf(value);
    }
  }

  /** Opens canonical content by its digest; the caller closes it. */
  public interface Source {
    InputStream open(Kind kind, Digest content);
  }

  @Override
  public boolean isEmpty() {
    return changes.isEmpty() && bindings.isEmpty();
  }

  @Override
  public long writes() {
    return changes.size() + (changes.isEmpty() ? bindings.size() : 0);
  }

  /** Bytes of everything that comes. */
  public long bytes() {
    return changes.stream().mapToLong(Change::size).sum();
  }

  @Override
  public List<String> parts() {
    return List.of(inWords());
  }

  private String inWords() {
    String given = Words.count(bindings.size(), "value") + " of inputs";
    if (changes.isEmpty()) {
      return given;
    }
    boolean files = changes.stream().allMatch(c -> c.key().kind() == Kind.FILE);
    String written = Words.count(changes.size(), files ? "file" : "definition");
    return bindings.isEmpty() ? written : written + " with " + given;
  }
}
