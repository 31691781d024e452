package plenzo.packages;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import plenzo.core.history.Anchor;
import plenzo.core.json.Json;

/**
 * A head of a history that was taken away, signed by the service whose history it is: a DSSE
 * envelope around a small document. It shows later whether anybody edited the past.
 *
 * @param service identity of the service
 * @param keyId id of the key that signed it
 * @param key that key's open part
 */
public record SignedHead(Anchor anchor, String service, Instant at, String keyId, String key) {
  static final String TYPE = "application/vnd.plenzo.history-head+json";

  /** The signed text; the same head at the same time with the same key gives the same text. */
  public static String sign(Anchor anchor, String service, Instant at, Signatures.Keys keys) {
    byte[] payload =
        Json.object(
                "format",
                1,
                "number",
                anchor.number(),
                "hash",
                anchor.hash(),
                "service",
                service,
                "at",
                at.toString(),
                "key",
                keys.open())
            .canonical()
            .getBytes(StandardCharsets.UTF_8);
    return Signatures.envelope(keys, TYPE, payload);
  }

  /**
   * @throws PackageRefused when it is no signed head, or its signature does not hold
   */
  public static SignedHead read(String text) {
    SignedDocument document = SignedDocument.read(text, TYPE, "head of a history");
    try {
      Json.Obj head = Json.parseObject(document.payload());
      return new SignedHead(
          new Anchor(((Json.Num) head.members().get("number")).value(), head.text("hash")),
          head.text("service"),
          Instant.parse(head.text("at")),
          document.keyId(),
          document.key());
    } catch (IllegalArgumentException
        | NullPointerException
        | ClassCastException
        | java.time.DateTimeException e) {
      throw PackageRefused.unread("The head", e);
    }
  }
}
