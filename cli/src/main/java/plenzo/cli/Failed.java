package plenzo.cli;

import java.util.List;

/** A command that failed: what, why, what to do, and the exit code. */
final class Failed extends RuntimeException {
  static final int BUG = 1;
  static final int USAGE = 2;
  static final int NOT_SIGNED_IN = 3;
  static final int NOT_ALLOWED = 4;
  static final int NOT_FOUND = 5;
  static final int CHANGED = 6;
  static final int STOPPED = 7;
  static final int NEEDS_CONFIRMATION = 8;
  static final int RUN_FAILED = 9;
  static final int HALF_WRITTEN = 10;
  static final int ABORTED = 11;
  static final int PAUSED = 12;
  static final int WAIT_OVER = 13;
  static final int DIFFERENT = 14;
  static final int NOT_REACHABLE = 15;
  static final int NOT_INTACT = 17;

  private final int exitCode;
  private final String code;
  private final List<String> next;
  private final String requestId;

  Failed(int exitCode, String code, String message, List<String> next, String requestId) {
    super(message);
    this.exitCode = exitCode;
    this.code = code;
    this.next = List.copyOf(next);
    this.requestId = requestId;
  }

  static Failed usage(String message, String... next) {
    return new Failed(USAGE, "USAGE", message, List.of(next), "");
  }

  static Failed notFound(String message, String next) {
    return new Failed(NOT_FOUND, "NOT_FOUND", message, List.of(next), "");
  }

  static Failed notReachable(String server) {
    return new Failed(
        NOT_REACHABLE,
        "NOT_REACHABLE",
        "Plenzo at " + server + " cannot be reached.",
        List.of(
            server.startsWith("https://")
                ? "Is it running, and is there TLS before it? Another server: --server URL, with http:// where there is none"
                : "Is it running? Another server: --server URL"),
        "");
  }

  /** What a dangerous act costs, and the command that confirms it. */
  static Failed confirm(String cost, String command) {
    return new Failed(NEEDS_CONFIRMATION, "CONFIRM", cost, List.of(command), "");
  }

  int exitCode() {
    return exitCode;
  }

  String code() {
    return code;
  }

  List<String> next() {
    return next;
  }

  String requestId() {
    return requestId;
  }
}
