package plenzo.core.json;

/**
 * A document that is not acceptable JSON, or not the JSON that is expected at its place: one kind
 * of unfit input, handled where others are. The message carries the pointer.
 */
public final class JsonRefused extends IllegalArgumentException {
  private static final long serialVersionUID = 1;

  private final String pointer;

  JsonRefused(String what, String pointer, long position) {
    super(what + " at \"" + pointer + "\" (character " + position + ")");
    this.pointer = pointer;
  }

  JsonRefused(String what, String pointer) {
    super(what + " at \"" + pointer + "\"");
    this.pointer = pointer;
  }

  /** The JSON pointer (RFC 6901) of the place. */
  public String pointer() {
    return pointer;
  }
}
