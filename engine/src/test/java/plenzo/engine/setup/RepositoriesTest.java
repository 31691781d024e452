package plenzo.engine.setup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.problem.Problem;
import plenzo.core.source.Repository;
import plenzo.engine.kit.KitTest;

/** A repository is looked at when it is named, not when somebody drafts from it. */
class RepositoriesTest extends KitTest {
  private static Repository at(String address, String branch) {
    return new Repository(address, "", branch, "reader", Repository.Follow.NOTHING, "v");
  }

  private @Nullable Repository named() {
    return kit.engine().applications().get(kit.ines, "fares").repository();
  }

  private void name(Repository repository, @Nullable String secret) {
    kit.engine().repositories().name(kit.ines, "fares", repository, secret, null);
  }

  private Problem refused(Repository repository) {
    return catchThrowableOfType(Problem.class, () -> name(repository, "token"));
  }

  @Test
  void theRepositorysOwnBranchIsTakenWhereNoneIsNamed() {
    name(at("/srv/fares", ""), "token");

    assertThat(named()).isEqualTo(at("/srv/fares", "trunk"));
    assertThat(kit.history().get(0).text()).contains("branch trunk");
  }

  @Test
  void aBranchThatIsNotThereIsSaidAtOnceAndNothingIsKept() {
    Problem p = refused(at("/srv/fares", "develop"));

    assertThat(p.reason()).isEqualTo(Problem.Reason.INVALID);
    assertThat(p).hasMessageContaining("no branch \"develop\"");
    assertThat(named()).isNull();
  }

  @Test
  void whatCannotBeReachedIsNotNamed() {
    kit.commits.reachable = false;

    Problem p = refused(at("/srv/fares", "main"));

    assertThat(p.reason()).isEqualTo(Problem.Reason.NOT_REACHABLE);
    assertThat(p.next()).containsExactly("Correct address, account or secret; nothing was kept");
    assertThat(named()).isNull();
  }

  /** The secret of one address is never shown to another. */
  @Test
  void aKeptSecretIsShownToItsOwnAddressAlone() {
    name(at("/srv/fares", "main"), "of-fares");
    assertThat(kit.commits.shown).isEqualTo("of-fares");

    name(at("/srv/fares", "trunk"), null);
    assertThat(kit.commits.shown).isEqualTo("of-fares");

    name(at("/srv/other", "main"), null);
    assertThat(kit.commits.shown).isEmpty();
  }
}
