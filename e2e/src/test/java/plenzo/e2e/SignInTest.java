package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.testing.Ground;
import plenzo.engine.Engine;

/** Guessing passwords is slow, whether at one account or at many from one address. */
class SignInTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("sign-in");

  private Engine engine;

  @BeforeEach
  void start() throws IOException {
    KillTest.clear(ROOT);
    engine = EngineMain.open(ROOT);
    Person ines = EngineMain.person("ines").withPassword("right", false);
    engine
        .tools()
        .keeper()
        .write(
            kept -> {
              kept.people().insert(ines);
              return null;
            });
  }

  @AfterEach
  void stop() {
    engine.tools().keeper().close();
    started.close();
  }

  private void fails(String login, String password, String address) {
    assertThatThrownBy(() -> engine.people().signIn(login, password, address))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("do not belong together, or too many tries");
  }

  @Test
  void slowsAnAddressThatTriesManyNames() {
    for (int i = 0; i < 30; i++) {
      fails("nobody-" + i, "guess", "192.0.2.7");
    }

    fails("ines", "right", "192.0.2.7");
    assertThat(engine.people().signIn("ines", "right", "192.0.2.8").secret()).isNotEmpty();
  }

  @Test
  void slowsAnAccountThatIsTriedFromManyAddresses() {
    for (int i = 0; i < 10; i++) {
      fails("ines", "guess", "192.0.2." + i);
    }

    fails("ines", "right", "192.0.2.99");
  }
}
