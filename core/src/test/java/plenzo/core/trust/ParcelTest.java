package plenzo.core.trust;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;

/** Whoever takes a package elsewhere is told what must be there before it. */
class ParcelTest {
  @Test
  void aFirstVersionWaitsForNothing() {
    assertThat(Parcel.before("fares", null, List.of())).isEmpty();
  }

  @Test
  void theVersionBeforeAndWhatItNeedsComeFirst() {
    assertThat(
            Parcel.before(
                "fares", "2.6.0", List.of("sailings >=1.8.0 <3.0.0", "server/database >=15.0.0")))
        .containsExactly(
            "fares 2.6.0, which it was drafted from: its package comes first, where any version of"
                + " fares is there already.",
            "sailings >=1.8.0 <3.0.0 at the same site.",
            "The software of the database >=15.0.0 at the site.");
  }
}
