package plenzo.engine.binding;

import java.util.List;
import java.util.Optional;
import plenzo.core.keeping.Kept;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Tools;

/**
 * What hosts hold after each run that gave them values, so that the ones of before can be given
 * again. All of it is encrypted, as every secret is.
 */
final class Givings {
  private final Tools tools;

  Givings(Tools tools) {
    this.tools = tools;
  }

  private static String id(long run) {
    return "given/R-" + run;
  }

  /** Keeps what a host will hold once the run has switched it. */
  void keep(Kept kept, long run, Giving giving) {
    forget(kept, run);
    kept.secrets()
        .insert(
            new Kept.Secret(
                id(run), tools.vault().encrypt(id(run), giving.json()), tools.vault().keyId(), 0));
  }

  void forget(Kept kept, long run) {
    kept.secrets().remove(id(run));
  }

  /** Empty of a run that gave nothing, or of a Plenzo that did not keep it yet. */
  Optional<Giving> of(Kept kept, long run) {
    return run == 0
        ? Optional.of(Giving.NOTHING)
        : kept.secrets()
            .find(id(run))
            .map(s -> Giving.of(tools.vault().decrypt(s.id(), s.cipher())));
  }

  /** What the host holds now, as far as it is kept. */
  Optional<Giving> now(Kept kept, SiteRecord record) {
    return nth(kept, record, 1);
  }

  /** What it held before the last run that gave it values. */
  Optional<Giving> before(Kept kept, SiteRecord record) {
    return nth(kept, record, 2);
  }

  private Optional<Giving> nth(Kept kept, SiteRecord record, int fromEnd) {
    List<Long> gave = record.gave();
    return gave.size() < fromEnd ? Optional.empty() : of(kept, gave.get(gave.size() - fromEnd));
  }
}
