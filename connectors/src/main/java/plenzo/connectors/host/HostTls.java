package plenzo.connectors.host;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.KeyStore;
import java.security.PrivateKey;
import java.security.cert.Certificate;
import java.security.cert.CertificateFactory;
import java.security.spec.InvalidKeySpecException;
import java.security.spec.PKCS8EncodedKeySpec;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.net.ssl.KeyManager;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import org.jspecify.annotations.Nullable;
import plenzo.core.target.Access;

/**
 * How a host is trusted and how Plenzo shows who it is, where that is not by the machine's
 * authorities and a token: options {@code authority} (certificates in PEM that are trusted instead)
 * and {@code sign-in} ({@code certificate}: the secret is a private key in PKCS#8 and its
 * certificates, all in PEM).
 */
final class HostTls {
  private static final Pattern PEM =
      Pattern.compile("-----BEGIN ([A-Z ]+)-----([A-Za-z0-9+/=\\s]+)-----END \\1-----");

  private HostTls() {}

  /** Whether a client certificate stands for the token. */
  static boolean byCertificate(Access access) {
    return "certificate".equals(access.options().get("sign-in"));
  }

  /**
   * The context for an access, null when the machine's own will do.
   *
   * @throws IllegalArgumentException when key or certificates cannot be read; never says what is in
   *     them
   */
  static @Nullable SSLContext context(Access access) {
    String authority = access.options().getOrDefault("authority", "");
    if (authority.isEmpty() && !byCertificate(access)) {
      return null;
    }
    if (access.tls().equals("disable")) {
      throw new IllegalArgumentException("A certificate needs TLS: set it to verify-full");
    }
    try {
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(
          byCertificate(access) ? keys(access.secret()) : null,
          authority.isEmpty() ? null : trusted(authority),
          null);
      return context;
    } catch (GeneralSecurityException | IOException e) {
      throw new IllegalArgumentException(
          "The key or the certificates cannot be used: " + e.getClass().getSimpleName(), e);
    }
  }

  private static List<Certificate> certificates(String pem) throws GeneralSecurityException {
    List<Certificate> out = new ArrayList<>();
    CertificateFactory factory = CertificateFactory.getInstance("X.509");
    Matcher m = PEM.matcher(pem);
    while (m.find()) {
      if (m.group(1).equals("CERTIFICATE")) {
        out.add(
            factory.generateCertificate(
                new ByteArrayInputStream(Base64.getMimeDecoder().decode(m.group(2)))));
      }
    }
    if (out.isEmpty()) {
      throw new IllegalArgumentException("There is no certificate in PEM in it");
    }
    return out;
  }

  private static TrustManager[] trusted(String pem) throws GeneralSecurityException, IOException {
    KeyStore store = empty();
    for (Certificate c : certificates(pem)) {
      store.setCertificateEntry("a" + store.size(), c);
    }
    TrustManagerFactory factory =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    factory.init(store);
    return factory.getTrustManagers();
  }

  private static KeyManager[] keys(String pem) throws GeneralSecurityException, IOException {
    KeyStore store = empty();
    store.setKeyEntry(
        "client", key(pem), new char[0], certificates(pem).toArray(Certificate[]::new));
    KeyManagerFactory factory =
        KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    factory.init(store, new char[0]);
    return factory.getKeyManagers();
  }

  private static KeyStore empty() throws GeneralSecurityException, IOException {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    return store;
  }

  private static PrivateKey key(String pem) throws GeneralSecurityException {
    Matcher m = PEM.matcher(pem);
    while (m.find()) {
      if (m.group(1).equals("PRIVATE KEY")) {
        byte[] bytes = Base64.getMimeDecoder().decode(m.group(2));
        for (String algorithm : List.of("EC", "RSA", "Ed25519")) {
          try {
            return KeyFactory.getInstance(algorithm)
                .generatePrivate(new PKCS8EncodedKeySpec(bytes));
          } catch (InvalidKeySpecException e) {
            continue; // a key of another sort
          }
        }
      }
    }
    throw new IllegalArgumentException(
        "There is no private key in PKCS#8 (\"BEGIN PRIVATE KEY\") of EC, RSA or Ed25519 in it");
  }
}
