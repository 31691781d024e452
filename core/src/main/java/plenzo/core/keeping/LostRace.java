package plenzo.core.keeping;

/**
 * Somebody else changed a record between reading and writing it; the transaction is undone. Whoever
 * began the transaction begins it anew, from reading.
 */
public final class LostRace extends RuntimeException {
  public LostRace(String what) {
    super("A record was changed by somebody else meanwhile: " + what);
  }
}
