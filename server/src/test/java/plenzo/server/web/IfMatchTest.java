package plenzo.server.web;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import jakarta.servlet.http.HttpServletRequest;
import java.lang.reflect.Proxy;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.problem.Problem;

/** An edit is of what was looked at. */
class IfMatchTest {
  /** A request that has this header and is asked for nothing else. */
  private static HttpServletRequest with(@Nullable String header) {
    return (HttpServletRequest)
        Proxy.newProxyInstance(
            IfMatchTest.class.getClassLoader(),
            new Class<?>[] {HttpServletRequest.class},
            (proxy, method, args) -> {
              assertThat(method.getName()).isEqualTo("getHeader");
              assertThat(args[0]).isEqualTo("If-Match");
              return header;
            });
  }

  @Test
  void isTheBodysWhereNothingIsSaid() {
    assertThat(IfMatch.revision(with(null), null)).isNull();
    assertThat(IfMatch.revision(with(null), 4)).isEqualTo(4);
    assertThat(IfMatch.revision(with("*"), 4)).isEqualTo(4);
    assertThat(IfMatch.revision(with(" * "), null)).isNull();
  }

  @Test
  void isTheHeaders() {
    assertThat(IfMatch.revision(with("\"7\""), null)).isEqualTo(7);
    assertThat(IfMatch.revision(with("\"7\""), 7)).isEqualTo(7);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"7", "W/\"7\"", "\"\"", "\"x\"", "\"7\", \"8\"", "\"-1\"", "\"99999999999\""})
  void matchesNothingThatIsNoRevision(String header) {
    assertThatThrownBy(() -> IfMatch.revision(with(header), null))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("CHANGED"));
  }

  @Test
  void doesNotMatchAnotherThanTheBodys() {
    assertThatThrownBy(() -> IfMatch.revision(with("\"7\""), 8)).isInstanceOf(Problem.class);
  }
}
