package plenzo.core.target;

import java.time.Instant;

/**
 * Who a target says it is: what its marker holds.
 *
 * @param target its id; in markers that were written before targets had ids, its key
 */
public record TargetIdentity(
    String service, String stage, String site, String target, Instant since) {
  /** Whether a marker names this target of this service; the time is not compared. */
  public boolean isMarkedAs(TargetIdentity marked) {
    return service.equals(marked.service)
        && stage.equals(marked.stage)
        && site.equals(marked.site)
        && new TargetId(target).isMarkedAs(marked.target);
  }

  public String shown() {
    return stage + "/" + site;
  }
}
