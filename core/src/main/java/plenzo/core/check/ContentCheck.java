package plenzo.core.check;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Set;
import java.util.function.Consumer;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.impact.Finding.Severity;

/**
 * Looks at the content of one component at a time: while it is a draft, where a blocker keeps it
 * one, and before it arrives at a stage. Many threads; the same content always gives the same
 * remarks. A jar adds its own through {@link java.util.ServiceLoader} (docs/operating.md, "Checks
 * of your own").
 */
public interface ContentCheck {
  /** Stable name, lower-case letters, digits and hyphens: the rule of its findings. */
  String id();

  /** The kinds that it looks at. */
  Set<Kind> kinds();

  /**
   * Says what it found; nothing when all is well. An exception, or no answer within the time that
   * the service gives it, counts as a risk "could not be checked".
   */
  void check(Content content, Consumer<Remark> sink) throws IOException;

  /**
   * What is looked at.
   *
   * @param size bytes of the canonical content
   * @param opening opens the canonical content from its beginning; whoever opens it closes it
   */
  record Content(ComponentKey key, long size, Opening opening) {
    /** Opens content. */
    public interface Opening {
      InputStream open() throws IOException;
    }

    /**
     * The canonical content as text.
     *
     * @throws IOException also when it is longer than {@code longest} bytes
     */
    public String text(int longest) throws IOException {
      try (InputStream in = opening.open()) {
        byte[] bytes = in.readNBytes(longest + 1);
        if (bytes.length > longest) {
          throw new IOException(key + " is longer than " + longest + " bytes");
        }
        return new String(bytes, StandardCharsets.UTF_8);
      }
    }
  }

  /**
   * One thing that was found.
   *
   * @param part where in the component, such as a JSON pointer; empty for all of it
   * @param advice what to do about it
   */
  record Remark(Severity severity, String part, String sentence, String advice) {}
}
