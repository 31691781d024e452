package plenzo.connectors.host;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.URI;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.target.Access;
import plenzo.core.target.TargetFailed;
import plenzo.hostprotocol.HostProtocol;

/** The token goes to the host that was judged, or nowhere. */
class HostAddressTest {
  private static String root(String host, String path) {
    return HostAddress.root(
        new Access(host, 8443, "", path, "plenzo", "verify-full", Map.of(), "token"));
  }

  @ParameterizedTest
  @CsvSource({
    "host.example, '', https://host.example:8443",
    "host.example, /, https://host.example:8443",
    "host.example, /tickets/north, https://host.example:8443/tickets/north",
    "host.example, /tickets/, https://host.example:8443/tickets",
    "127.0.0.1, /a.b_c~d-e, https://127.0.0.1:8443/a.b_c~d-e",
    "::1, /x, https://[::1]:8443/x",
  })
  void leadsToTheHostThatIsNamed(String host, String path, String root) {
    assertThat(root(host, path)).isEqualTo(root + HostProtocol.ROOT);
    assertThat(URI.create(root(host, path)).getPort()).isEqualTo(8443);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "@127.0.0.1:46000/",
        "/@127.0.0.1:46000/",
        "x",
        ".evil.example",
        ":46000/",
        "/..",
        "/a/../b",
        "/./a",
        "//evil.example",
        "/a//b",
        "/a?b",
        "/a#b",
        "/a%2e%2e",
        "/a\\b",
        "/a b",
        "/a\r\nHost: x",
      })
  void refusesAPathThatLeadsElsewhere(String path) {
    assertThatThrownBy(() -> root("host.example", path))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("a path is empty or begins with /");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"", "a@b", "a:b@c", "host/x", "host?x", "host#x", "ho st", "[::1", "a_b.example"})
  void refusesAHostThatIsNone(String host) {
    assertThatThrownBy(() -> root(host, "")).isInstanceOf(TargetFailed.class);
  }

  private static Access judged(String host, String tls, String address) {
    return new Access(host, 8443, "", "/x", "plenzo", tls, Map.of(), "token", List.of(address));
  }

  @ParameterizedTest
  @CsvSource({
    "host.invalid, disable, 192.0.2.7, http://192.0.2.7:8443/x",
    "host.invalid, disable, 2001:db8::7, http://[2001:db8::7]:8443/x",
    "host.invalid, verify-full, 192.0.2.7, https://host.invalid:8443/x",
  })
  void isTheJudgedAddressWhereNoCertificateIsChecked(
      String host, String tls, String address, String root) throws Exception {
    assertThat(HostAddress.reached(judged(host, tls, address))).isEqualTo(root + HostProtocol.ROOT);
  }
}
