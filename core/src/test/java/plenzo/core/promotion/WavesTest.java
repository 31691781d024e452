package plenzo.core.promotion;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.promotion.Waves.Between;
import plenzo.core.promotion.Waves.Came;
import plenzo.core.promotion.Waves.Follows;
import plenzo.core.promotion.Waves.Part;
import plenzo.core.promotion.Waves.Rules;
import plenzo.core.promotion.Waves.State;
import plenzo.core.promotion.Waves.Wave;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

/** What follows from what sites have come to. */
class WavesTest {
  private static final Instant NOW = Instant.parse("2027-03-01T08:00:00Z");
  private static final SiteKey NORTH = new SiteKey("production", "north");
  private static final SiteKey SOUTH = new SiteKey("production", "south");

  private static Waves waves(Rules rules, SiteKey... sites) {
    long[] next = {10};
    return new Waves(
        3,
        "fares",
        new SemVer("2.6.1"),
        "production",
        Stream.of(sites).map(s -> new Wave(List.of(new Part(s, next[0]++)))).toList(),
        rules,
        State.RUNNING,
        "ines",
        NOW,
        0,
        null,
        List.of(),
        "ines",
        "",
        0);
  }

  private static Rules failures(int n) {
    return new Rules(Between.GO_ON, 0, n);
  }

  /** What the parts of the first of two waves came to, N(ot yet), T(here), F(ailed). */
  @ParameterizedTest
  @CsvSource({
    "T,   0, 0, NEXT_WAVE",
    "TT,  0, 0, NEXT_WAVE",
    "NT,  0, 0, WAIT",
    "NF,  0, 0, WAIT",
    "F,   0, 0, STOP",
    "TF,  0, 0, STOP",
    "TF,  1, 0, NEXT_WAVE",
    "TF,  1, 1, STOP",
    "FF,  1, 0, STOP",
    "T,   0, 1, STOP"
  })
  void whatFollows(String came, int allowed, long before, Follows follows) {
    List<Came> all =
        Arrays.stream(came.split(""))
            .map(c -> c.equals("N") ? Came.NOT_YET : c.equals("T") ? Came.THERE : Came.FAILED)
            .toList();
    assertThat(waves(failures(allowed), NORTH, SOUTH).follows(all, before)).isEqualTo(follows);
  }

  @Test
  void isDoneAfterItsLastWaveAndWhereAllOfItIsLeft() {
    Waves last = waves(failures(0), NORTH, SOUTH).next("bram");
    assertThat(last.follows(List.of(Came.THERE), 0)).isEqualTo(Follows.DONE);
    Waves left = last.leaving(new Waves.Left(SOUTH, "ines", NOW, "no line"));
    assertThat(left.underWay()).isEmpty();
    assertThat(left.follows(List.of(), 0)).isEqualTo(Follows.DONE);
    assertThat(left.leaves(SOUTH)).isTrue();
    assertThat(left.leaves(NORTH)).isFalse();
  }

  @Test
  void waitingIsOverWhenTheNextBegins() {
    Waves waiting = waves(new Rules(Between.WORD, 0, 0), NORTH, SOUTH).waiting(null);
    assertThat(waiting.state()).isEqualTo(State.WAITING);
    Waves next = waiting.next("bram");
    assertThat(next.state()).isEqualTo(State.RUNNING);
    assertThat(next.startedBy()).as("on whose word").isEqualTo("bram");
    assertThat(next.underWay()).extracting(Part::site).containsExactly(SOUTH);
  }

  private static Fingerprint plan(String text) {
    return new Fingerprint(Digest.of(text));
  }

  @Test
  void oneFingerprintCoversAllPlansTheirOrderAndTheRules() {
    Waves w = waves(failures(0), NORTH, SOUTH);
    Fingerprint f = w.fingerprint(List.of(plan("a"), plan("b")));

    assertThat(w.fingerprint(List.of(plan("b"), plan("a")))).isNotEqualTo(f);
    assertThat(waves(failures(0), SOUTH, NORTH).fingerprint(List.of(plan("a"), plan("b"))))
        .isNotEqualTo(f);
    assertThat(waves(failures(1), NORTH, SOUTH).fingerprint(List.of(plan("a"), plan("b"))))
        .isNotEqualTo(f);
    assertThat(
            waves(new Rules(Between.WORD, 0, 0), NORTH, SOUTH)
                .fingerprint(List.of(plan("a"), plan("b"))))
        .isNotEqualTo(f);
    assertThat(w.fingerprint(Arrays.asList(plan("a"), null))).isNull();
  }

  @Test
  void rulesAreBounded() {
    assertThatIllegalArgumentException().isThrownBy(() -> new Rules(Between.WORD, -1, 0));
    assertThatIllegalArgumentException().isThrownBy(() -> new Rules(Between.WORD, 1441, 0));
    assertThatIllegalArgumentException().isThrownBy(() -> failures(-1));
    assertThatIllegalArgumentException().isThrownBy(() -> failures(Waves.MOST));
    for (Between b : Between.values()) {
      assertThat(Between.of(b.code())).isEqualTo(b);
    }
  }
}
