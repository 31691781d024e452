package plenzo.packages;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import plenzo.core.json.Json;

/**
 * A document in a DSSE envelope, signed by the key that it names itself: nobody altered it since;
 * whether the key is one to believe is another question.
 *
 * @param keyId id of the key that signed it
 * @param key that key's open part
 */
record SignedDocument(String payload, String keyId, String key) {
  /**
   * @param what it should be, for people: "head of a history"
   * @throws PackageRefused when it is another one, or its signature does not hold
   */
  static SignedDocument read(String text, String type, String what) {
    try {
      Json.Obj envelope = Json.parseObject(text.strip());
      if (!type.equals(envelope.findText("payloadType"))) {
        throw new PackageRefused("This is no " + what + ".");
      }
      byte[] payload = Base64.getDecoder().decode(envelope.text("payload"));
      String said = new String(payload, StandardCharsets.UTF_8);
      Json.Obj signature = (Json.Obj) envelope.list("signatures").get(0);
      String open = Json.parseObject(said).text("key");
      String id = Signatures.id(open);
      if (!id.equals(signature.text("keyid"))
          || !Signatures.holds(
              open, type, payload, Base64.getDecoder().decode(signature.text("sig")))) {
        throw new PackageRefused("The signature does not hold: the " + what + " was altered.");
      }
      return new SignedDocument(said, id, open);
    } catch (IllegalArgumentException
        | NullPointerException
        | ClassCastException
        | IndexOutOfBoundsException e) {
      throw PackageRefused.unread("The " + what, e);
    }
  }
}
