package plenzo.packages;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Base64;
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
    try {
      Json.Obj envelope = Json.parseObject(text.strip());
      if (!TYPE.equals(envelope.findText("payloadType"))) {
        throw new PackageRefused("This is no head of a history.");
      }
      byte[] payload = Base64.getDecoder().decode(envelope.text("payload"));
      Json.Obj head = Json.parseObject(new String(payload, StandardCharsets.UTF_8));
      Json.Obj signature = (Json.Obj) envelope.list("signatures").get(0);
      String open = head.text("key");
      String id = Signatures.id(open);
      if (!id.equals(signature.text("keyid"))
          || !Signatures.holds(
              open, TYPE, payload, Base64.getDecoder().decode(signature.text("sig")))) {
        throw new PackageRefused("The signature does not hold: the head was altered.");
      }
      return new SignedHead(
          new Anchor(((Json.Num) head.members().get("number")).value(), head.text("hash")),
          head.text("service"),
          Instant.parse(head.text("at")),
          id,
          open);
    } catch (IllegalArgumentException
        | NullPointerException
        | ClassCastException
        | IndexOutOfBoundsException
        | java.time.DateTimeException e) {
      throw PackageRefused.unread("The head", e);
    }
  }
}
