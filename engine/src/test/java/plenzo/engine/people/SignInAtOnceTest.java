package plenzo.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.engine.kit.KitTest;

/** Tries that come at once are counted like those that come one after another. */
class SignInAtOnceTest extends KitTest {
  private static final int TRIES = 28;

  @BeforeEach
  void password() {
    kit.write(
        kept -> {
          for (String login : List.of("ines", "bram")) {
            Person p = kept.people().find(login).orElseThrow();
            kept.people().replace(p.withPassword("right", false));
          }
          return null;
        });
  }

  private boolean lets(String login, String password, String address) {
    return catchThrowableOfType(
            Problem.class, () -> kit.engine().people().signIn(login, password, address))
        == null;
  }

  private int failures() {
    return kit.read(kept -> kept.people().find("ines")).orElseThrow().failures();
  }

  @Test
  void closesAnAccountAfterFiveHoweverManyComeAtOnce() throws Exception {
    ExecutorService all = Executors.newFixedThreadPool(TRIES);
    CyclicBarrier start = new CyclicBarrier(TRIES);
    try {
      List<Future<Boolean>> tries = new ArrayList<>();
      for (int n = 0; n < TRIES; n++) {
        int from = n;
        tries.add(
            all.submit(
                () -> {
                  start.await();
                  return lets("ines", "guess", "192.0.2." + from);
                }));
      }
      for (Future<Boolean> t : tries) {
        assertThat(t.get()).isFalse();
      }
    } finally {
      all.shutdownNow();
    }

    assertThat(failures()).isEqualTo(5);
    assertThat(lets("ines", "right", "192.0.2.99")).as("it waits").isFalse();
  }

  @Test
  void doesNotCountARightPassword() {
    for (int round = 1; round <= 5; round++) {
      for (int n = 0; n < 5; n++) {
        lets("ines", "guess", "192.0.2." + n);
        kit.clock.tick(Duration.ofHours(round < 5 || n < 4 ? 1 : 0));
      }
    }
    assertThat(failures()).isEqualTo(25);

    for (int n = 0; n < 40; n++) {
      assertThat(lets("ines", "right", "192.0.2.50")).as("the account waits").isFalse();
    }

    assertThat(failures()).isEqualTo(25);
    assertThat(lets("bram", "right", "192.0.2.50")).as("the address does not").isTrue();
  }
}
