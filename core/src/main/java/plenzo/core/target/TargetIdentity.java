package plenzo.core.target;

import java.time.Instant;

/** Who a target says it is: what its marker holds. */
public record TargetIdentity(
    String service, String stage, String site, String target, Instant since) {
  /** True when both name the same target of the same service; the time is not compared. */
  public boolean same(TargetIdentity other) {
    return service.equals(other.service)
        && stage.equals(other.stage)
        && site.equals(other.site)
        && target.equals(other.target);
  }

  public String shown() {
    return stage + "/" + site;
  }
}
