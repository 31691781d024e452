package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.StringWriter;
import java.lang.reflect.Proxy;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.Primary;
import plenzo.connectors.database.PostgresConnector;
import plenzo.core.target.Changing;
import plenzo.core.target.TablesConnector;
import plenzo.demo.Story;
import plenzo.demo.Teller;
import plenzo.demo.World;

/**
 * The demo's story bites: it fails on an engine whose apply does nothing. That it passes on the
 * real one is seen where the console is tried on what it leaves.
 */
class StoryTest {
  @Tag("nightly")
  @Test
  void failsWhenTheApplyDoesNothing() throws IOException {
    StringWriter told = new StringWriter();
    try (TestService service = new TestService("idle", Idle.class)) {
      Teller teller = service.teller(told);
      World.setUp(teller, service.places, service.cluster.port(), TestService.ADMIN);

      assertThatThrownBy(() -> new Story(teller, service.places).tell())
          .isInstanceOf(IllegalStateException.class);
    }
    assertThat(told.toString()).contains("run start");
  }

  /** A connector that says it switched and did not. */
  @Configuration
  static class Idle {
    @Bean
    @Primary
    TablesConnector idle() {
      PostgresConnector real = new PostgresConnector();
      return (TablesConnector)
          Proxy.newProxyInstance(
              Idle.class.getClassLoader(),
              new Class<?>[] {TablesConnector.class},
              (proxy, method, args) -> {
                Object answer = method.invoke(real, args);
                if (!(answer instanceof Changing changing)) {
                  return answer;
                }
                return Proxy.newProxyInstance(
                    Idle.class.getClassLoader(),
                    new Class<?>[] {Changing.class},
                    (p, m, a) -> m.getName().equals("switchOver") ? null : m.invoke(changing, a));
              });
    }
  }
}
