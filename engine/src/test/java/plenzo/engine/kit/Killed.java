package plenzo.engine.kit;

/** The service dies here: nothing of it runs on but what closes sessions. */
public final class Killed extends Error {
  public Killed(String where) {
    super(where);
  }
}
