package plenzo.packages;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Objects;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.version.Version;

/**
 * The signed statement: an in-toto statement (v1) with SLSA provenance (v1) whose subject is the
 * manifest, in a DSSE envelope. The signer's public key stands in the statement, so that the
 * signature can be checked before anybody asks whether the signer is trusted.
 */
final class Envelope {
  private static final String TYPE = "application/vnd.in-toto+json";

  private Envelope() {}

  /** What the envelope says, its signature checked. */
  record Said(Digest manifest, String signer, String open) {}

  static byte[] of(Version version, Digest manifest, String service, Signatures.Keys keys) {
    byte[] payload =
        Json.object(
                "_type",
                "https://in-toto.io/Statement/v1",
                "subject",
                List.of(
                    Json.object(
                        "name", Manifest.NAME, "digest", Json.object("sha256", manifest.hex()))),
                "predicateType",
                "https://slsa.dev/provenance/v1",
                "predicate",
                Json.object(
                    "buildDefinition",
                    Json.object(
                        "buildType",
                        "urn:plenzo:seal:1",
                        "externalParameters",
                        Json.object(
                            "application",
                            version.application(),
                            "number",
                            version.number().text(),
                            "source",
                            version.source())),
                    "runDetails",
                    Json.object(
                        "builder",
                        Json.object("id", "urn:plenzo:service:" + service, "key", keys.open()),
                        "metadata",
                        Json.object(
                            "finishedOn",
                            version
                                .sealedAt()
                                .truncatedTo(java.time.temporal.ChronoUnit.SECONDS)
                                .toString()))))
            .canonical()
            .getBytes(StandardCharsets.UTF_8);
    return Signatures.envelope(keys, TYPE, payload).getBytes(StandardCharsets.UTF_8);
  }

  /**
   * @throws PackageRefused when it is no envelope of a package, or its signature does not hold
   */
  static Said read(String text) {
    try {
      Json.Obj envelope = Json.parseObject(text);
      if (!envelope.canonical().equals(text) || !TYPE.equals(envelope.findText("payloadType"))) {
        throw new PackageRefused("The signed statement is not in its canonical form.");
      }
      byte[] payload = Base64.getDecoder().decode(envelope.text("payload"));
      List<Json> signatures = envelope.list("signatures");
      if (signatures.size() != 1) {
        throw new PackageRefused("The signed statement has " + signatures.size() + " signatures.");
      }
      Json.Obj signature = (Json.Obj) signatures.get(0);
      Json.Obj statement = Json.parseObject(new String(payload, StandardCharsets.UTF_8));
      Json.Obj run = object(object(statement, "predicate"), "runDetails");
      String open = object(run, "builder").text("key");
      String id = Signatures.id(open);
      if (!id.equals(signature.text("keyid"))) {
        throw new PackageRefused("The statement names another key than it is signed with.");
      }
      if (!Signatures.holds(
          open, TYPE, payload, Base64.getDecoder().decode(signature.text("sig")))) {
        throw new PackageRefused("The signature does not hold: the statement was altered.");
      }
      List<Json> subjects = statement.list("subject");
      if (subjects.size() != 1
          || !Manifest.NAME.equals(((Json.Obj) subjects.get(0)).findText("name"))) {
        throw new PackageRefused("The signed statement is not about a manifest.");
      }
      return new Said(
          new Digest(object((Json.Obj) subjects.get(0), "digest").text("sha256")), id, open);
    } catch (IllegalArgumentException | NullPointerException | ClassCastException e) {
      throw PackageRefused.unread("The signed statement", e);
    }
  }

  private static Json.Obj object(Json.Obj of, String name) {
    return (Json.Obj) Objects.requireNonNull(of.find(name), "no \"" + name + "\"");
  }
}
