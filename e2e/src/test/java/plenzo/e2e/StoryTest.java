package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.StringWriter;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.Primary;
import plenzo.connectors.database.PostgresConnector;
import plenzo.core.target.Access;
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
  /** Where everything is idle, the copy on which a plan is tried tells before any run. */
  @Tag("nightly")
  @Test
  void isStoppedByItsPlanWhenNoApplyDoesAnything() throws IOException {
    assertThat(told("idle", Idle.class))
        .contains("■ blocker Tried on a copy, the table is not what was planned")
        .doesNotContain("run start");
  }

  @Tag("nightly")
  @Test
  void failsWhenTheApplyAtASiteDoesNothing() throws IOException {
    assertThat(told("idle-site", IdleSite.class)).contains("run start");
  }

  /** The story as far as it goes. */
  private static String told(String name, Class<?> engine) throws IOException {
    StringWriter told = new StringWriter();
    try (TestService service = new TestService(name, engine)) {
      Teller teller = service.teller(told);
      World.setUp(teller, service.places, service.cluster.port(), TestService.ADMIN);

      assertThatThrownBy(() -> new Story(teller, service.places).tell())
          .isInstanceOf(IllegalStateException.class);
    }
    return told.toString();
  }

  /** A connector that says it switched and did not. */
  private static TablesConnector idle(Predicate<Access> where) {
    PostgresConnector real = new PostgresConnector();
    return proxy(
        TablesConnector.class,
        (method, args) -> {
          Object answer = method.invoke(real, args);
          return answer instanceof Changing changing && where.test((Access) args[0])
              ? proxy(
                  Changing.class,
                  (m, a) -> m.getName().equals("switchOver") ? null : m.invoke(changing, a))
              : answer;
        });
  }

  private interface Called {
    @Nullable Object by(Method method, @Nullable Object @Nullable [] args) throws Throwable;
  }

  private static <T> T proxy(Class<T> as, Called called) {
    return as.cast(
        Proxy.newProxyInstance(
            StoryTest.class.getClassLoader(),
            new Class<?>[] {as},
            (proxy, method, args) -> {
              try {
                return called.by(method, args);
              } catch (InvocationTargetException e) {
                throw e.getCause();
              }
            }));
  }

  @Configuration
  static class Idle {
    @Bean
    @Primary
    TablesConnector idle() {
      return StoryTest.idle(access -> true);
    }
  }

  /** Copies are made and changed by the account of the scratch places. */
  @Configuration
  static class IdleSite {
    @Bean
    @Primary
    TablesConnector idleSite() {
      return StoryTest.idle(access -> !access.account().equals("scratch"));
    }
  }
}
