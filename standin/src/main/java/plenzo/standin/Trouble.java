package plenzo.standin;

/** A call that cannot be served, with its status. */
final class Trouble extends RuntimeException {
  private static final long serialVersionUID = 1;

  private final int status;
  private final String code;

  Trouble(int status, String code, String message) {
    super(message);
    this.status = status;
    this.code = code;
  }

  int status() {
    return status;
  }

  String code() {
    return code;
  }
}
