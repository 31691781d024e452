package plenzo.core.target;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import org.junit.jupiter.api.Test;

class TargetIdTest {
  private static TargetIdentity identity(String service, String site, String target) {
    return new TargetIdentity(service, "production", site, target, Instant.EPOCH);
  }

  @Test
  void isMarkedByItsIdOrByTheKeyThatEarlyMarkersHold() {
    TargetIdentity me = identity("s", "north", "production/north/database");

    assertThat(me.isMarkedAs(identity("s", "north", "production/north/database"))).isTrue();
    assertThat(me.isMarkedAs(identity("s", "north", "database"))).isTrue();
    assertThat(me.isMarkedAs(identity("s", "north", "base"))).isFalse();
    assertThat(me.isMarkedAs(identity("s", "south", "database"))).isFalse();
    assertThat(me.isMarkedAs(identity("other", "north", "database"))).isFalse();
  }

  @Test
  void oneThatWasRegisteredAgainIsAnother() {
    TargetIdentity again = identity("s", "north", "production/north/database~1f3a");

    assertThat(again.isMarkedAs(identity("s", "north", "production/north/database"))).isFalse();
    assertThat(again.isMarkedAs(identity("s", "north", "database"))).isFalse();
  }
}
