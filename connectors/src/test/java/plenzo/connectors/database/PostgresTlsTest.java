package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.KeyStore;
import java.sql.Connection;
import java.sql.Statement;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.target.Access;
import plenzo.core.target.Connector.Trial;
import plenzo.core.target.Connector.Use;
import plenzo.core.target.Probe;
import plenzo.core.testing.Ground;

/** TLS to a real server whose certificate is signed by nobody that this machine knows. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class PostgresTlsTest {
  private static final String PASSWORD = "for-the-test";

  private final PostgresConnector connector = new PostgresConnector();
  private EmbeddedPostgres server;
  private String certificate = "";
  private String another = "";

  @BeforeAll
  void start() throws Exception {
    Path folder = Ground.of("postgres-tls");
    server = TestServer.start("postgres-tls");
    Path data = folder.resolve("data");
    KeyStore store = made(folder.resolve("server.p12"), "dns:localhost");
    certificate = pem("CERTIFICATE", store.getCertificate("it").getEncoded());
    another =
        pem(
            "CERTIFICATE",
            made(folder.resolve("another.p12"), "dns:localhost").getCertificate("it").getEncoded());
    own(data, "server.crt", certificate);
    own(
        data,
        "server.key",
        pem("PRIVATE KEY", store.getKey("it", PASSWORD.toCharArray()).getEncoded()));
    try (Connection c = server.getPostgresDatabase().getConnection();
        Statement s = c.createStatement()) {
      s.execute("CREATE ROLE looker LOGIN PASSWORD 'x'");
      s.execute("CREATE SCHEMA fares");
      s.execute("GRANT USAGE ON SCHEMA fares TO looker");
      s.execute("ALTER SYSTEM SET ssl = on");
      s.execute("SELECT pg_reload_conf()");
    }
  }

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  /** A file of the server's, as only its own account may read it. */
  private static void own(Path data, String name, String text) throws Exception {
    Path file = Files.writeString(data.resolve(name), text);
    Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
    Files.setOwner(file, Files.getOwner(data.resolve("PG_VERSION")));
  }

  private static KeyStore made(Path file, String name) throws Exception {
    Files.deleteIfExists(file);
    Process made =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                "-genkeypair",
                "-keystore",
                file.toString(),
                "-storetype",
                "PKCS12",
                "-storepass",
                PASSWORD,
                "-alias",
                "it",
                "-keyalg",
                "EC",
                "-dname",
                "CN=sample",
                "-ext",
                "san=" + name,
                "-ext",
                "bc=ca:true",
                "-validity",
                "2")
            .redirectErrorStream(true)
            .start();
    String said = new String(made.getInputStream().readAllBytes());
    assertThat(made.waitFor()).as(said).isZero();
    KeyStore store = KeyStore.getInstance("PKCS12");
    try (InputStream in = Files.newInputStream(file)) {
      store.load(in, PASSWORD.toCharArray());
    }
    return store;
  }

  private static String pem(String what, byte[] bytes) {
    return "-----BEGIN "
        + what
        + "-----\n"
        + Base64.getMimeEncoder(64, "\n".getBytes()).encodeToString(bytes)
        + "\n-----END "
        + what
        + "-----\n";
  }

  private Probe reached(String host, String tls, String authority) {
    Access access =
        new Access(
            host,
            server.getPort(),
            "postgres",
            "",
            "looker",
            tls,
            authority.isEmpty() ? Map.of() : Map.of("authority", authority),
            "x");
    return connector.test(access, Trial.of(Use.LOOKING, List.of("fares"), null)).get(0);
  }

  @Test
  void theNamedAuthorityIsBelievedAndNobodyElse() {
    assertThat(reached("localhost", "verify-full", certificate).good()).isTrue();
    assertThat(reached("localhost", "require", "").good()).isTrue();

    Probe stranger = reached("localhost", "verify-full", another);
    assertThat(stranger.good()).isFalse();
    assertThat(stranger.advice()).contains("--authority");
    assertThat(reached("localhost", "require", another).good()).isFalse();
  }

  @Test
  void withoutAnAuthorityThisMachinesAreAskedAndTheAdviceSaysWhatToName() {
    Probe p = reached("localhost", "verify-full", "");

    assertThat(p.good()).isFalse();
    assertThat(p.advice()).contains("--authority");
  }

  @Test
  void anotherNamesCertificateIsSaid() {
    Probe p = reached("127.0.0.1", "verify-full", certificate);

    assertThat(p.good()).isFalse();
    assertThat(p.advice()).contains("another name's");
    assertThat(reached("127.0.0.1", "require", certificate).good()).isTrue();
  }

  @Test
  void whatIsNoCertificateIsRefusedWithoutBeingRepeated() {
    Probe p = reached("localhost", "verify-full", "secret-of-somebody");

    assertThat(p.good()).isFalse();
    assertThat(p.found()).doesNotContain("secret-of-somebody");
  }
}
