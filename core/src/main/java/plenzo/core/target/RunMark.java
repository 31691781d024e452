package plenzo.core.target;

/**
 * What a run writes into a target's marker: the key (run, step, attempt) decides what happened
 * there.
 */
public record RunMark(
    long run, String step, int attempt, String version, String fingerprint, String person) {
  public RunMark attempt(int next) {
    return new RunMark(run, step, next, version, fingerprint, person);
  }
}
