package plenzo.core.json;

/** A document that is not acceptable JSON; the message carries the pointer and the position. */
public final class JsonRefused extends RuntimeException {
  private final String pointer;

  JsonRefused(String what, String pointer, long position) {
    super(what + " at \"" + pointer + "\" (character " + position + ")");
    this.pointer = pointer;
  }

  /** The JSON pointer (RFC 6901) of the place. */
  public String pointer() {
    return pointer;
  }
}
