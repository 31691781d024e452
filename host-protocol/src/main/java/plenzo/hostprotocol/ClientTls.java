package plenzo.hostprotocol;

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

/**
 * How a caller trusts a host and shows who it is, where that is not by the machine's authorities
 * and a token. All texts are PEM; a key is PKCS#8.
 */
public final class ClientTls {
  private static final Pattern PEM =
      Pattern.compile("-----BEGIN ([A-Z ]+)-----([A-Za-z0-9+/=\\s]+)-----END \\1-----");

  private ClientTls() {}

  /**
   * @param authority certificates that are trusted instead of the machine's; empty for those
   * @param client a private key and its certificates; empty for none
   * @throws IllegalArgumentException when key or certificates cannot be read; never says what is in
   *     them
   */
  public static SSLContext context(String authority, String client) {
    try {
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(
          client.isEmpty() ? null : keys(client),
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
