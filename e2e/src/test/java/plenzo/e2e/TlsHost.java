package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpHandler;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsParameters;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.Base64;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.TrustManagerFactory;

/**
 * A host on loopback that serves only callers with the client's certificate; keys and certificates
 * are made for the test.
 */
final class TlsHost implements AutoCloseable {
  private static final char[] PASSWORD = "for-the-test".toCharArray();

  /** What it is trusted by, what it knows, and what it does not know: PEM. */
  final String authority;

  final String client;
  final String stranger;

  private final HttpsServer server;

  TlsHost(Path folder, HttpHandler handler)
      throws IOException, GeneralSecurityException, InterruptedException {
    KeyStore own = made(folder, "server", "EC");
    KeyStore known = made(folder, "client", "EC");
    KeyStore other = made(folder, "stranger", "RSA");
    authority = certificate(own, "server");
    client = key(known, "client") + certificate(known, "client");
    stranger = key(other, "stranger") + certificate(other, "stranger");
    KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    keys.init(own, PASSWORD);
    KeyStore clients = KeyStore.getInstance("PKCS12");
    clients.load(null, null);
    clients.setCertificateEntry("client", known.getCertificate("client"));
    TrustManagerFactory trust =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    trust.init(clients);
    SSLContext tls = SSLContext.getInstance("TLS");
    tls.init(keys.getKeyManagers(), trust.getTrustManagers(), null);
    server = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
    server.setHttpsConfigurator(
        new HttpsConfigurator(tls) {
          @Override
          public void configure(HttpsParameters parameters) {
            SSLParameters asked = getSSLContext().getDefaultSSLParameters();
            asked.setNeedClientAuth(true);
            parameters.setSSLParameters(asked);
          }
        });
    server.createContext("/", handler);
    server.start();
  }

  int port() {
    return server.getAddress().getPort();
  }

  @Override
  public void close() {
    server.stop(0);
  }

  private static KeyStore made(Path folder, String name, String algorithm)
      throws IOException, InterruptedException, GeneralSecurityException {
    Path file = folder.resolve(name + ".p12");
    Process p =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                "-genkeypair",
                "-alias",
                name,
                "-keyalg",
                algorithm,
                "-dname",
                "CN=" + name,
                "-ext",
                "san=ip:127.0.0.1",
                "-storetype",
                "PKCS12",
                "-keystore",
                file.toString(),
                "-storepass",
                new String(PASSWORD))
            .redirectErrorStream(true)
            .start();
    p.getInputStream().readAllBytes();
    assertThat(p.waitFor()).isZero();
    KeyStore store = KeyStore.getInstance("PKCS12");
    try (InputStream in = Files.newInputStream(file)) {
      store.load(in, PASSWORD);
    }
    return store;
  }

  private static String pem(String what, byte[] bytes) {
    return "-----BEGIN "
        + what
        + "-----\n"
        + Base64.getMimeEncoder(64, new byte[] {'\n'}).encodeToString(bytes)
        + "\n-----END "
        + what
        + "-----\n";
  }

  private static String key(KeyStore store, String name) throws GeneralSecurityException {
    return pem("PRIVATE KEY", store.getKey(name, PASSWORD).getEncoded());
  }

  private static String certificate(KeyStore store, String name) throws GeneralSecurityException {
    return pem("CERTIFICATE", store.getCertificate(name).getEncoded());
  }
}
