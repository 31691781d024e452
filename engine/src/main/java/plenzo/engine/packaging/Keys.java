package plenzo.engine.packaging;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.trust.Signer;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.packages.Signatures;

/** The keys that sign packages, and the explicit list of those that are trusted. */
public final class Keys {
  private final Tools tools;

  public Keys(Tools tools) {
    this.tools = tools;
  }

  public List<Signer> list(Person by) {
    return tools.keeper().read(kept -> kept.signers().all()).stream()
        .sorted(Comparator.comparing(Signer::at))
        .toList();
  }

  /** Makes a key of this service's own; packages are signed with the newest from now on. */
  public Signer make(Person by, String name) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    named(name);
    Signatures.Keys keys = Signatures.make(tools.random());
    Signer signer =
        new Signer(keys.id(), name, keys.open(), true, null, "", tools.now(), by.login(), 0);
    return tools
        .keeper()
        .write(
            kept -> {
              kept.signers().insert(signer);
              String id = secret(signer);
              kept.secrets()
                  .insert(
                      new Kept.Secret(
                          id, tools.vault().encrypt(id, keys.secret()), tools.vault().keyId(), 0));
              kept.note(
                  Event.of(by.login(), "key made", name + ", " + signer.brief()), tools.now());
              return signer;
            });
  }

  private static void named(String name) {
    if (name.isBlank() || name.length() > 80) {
      throw Problem.invalid("NAME", "A key needs a name of 1 to 80 characters.", "/name");
    }
  }

  private static String secret(Signer signer) {
    return "key/" + signer.id();
  }

  /** Trusts the key of another service. */
  public Signer trust(Person by, String name, String open) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    named(name);
    String id;
    try {
      id = Signatures.id(open);
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("KEY", e.getMessage() + ".", "/key");
    }
    Signer signer = new Signer(id, name, open.strip(), false, null, "", tools.now(), by.login(), 0);
    return tools
        .keeper()
        .write(
            kept -> {
              if (kept.signers().find(id).isPresent()) {
                throw Problem.invalid(
                    "TAKEN", "The key " + signer.brief() + " is in the list already.", "/key");
              }
              kept.signers().insert(signer);
              kept.note(
                  Event.of(by.login(), "key trusted", name + ", " + signer.brief()), tools.now());
              return signer;
            });
  }

  /** From now on nothing that the key signed is taken; there is no way back but a new key. */
  public Signer revoke(Person by, String id, String reason) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Revoking a key needs a reason.", "/reason");
    }
    Signer old = find(id);
    return tools
        .keeper()
        .write(
            kept -> {
              Signer next = old.revoke(tools.now(), reason);
              kept.signers().replace(next);
              if (old.own()) {
                kept.secrets().remove(secret(old));
              }
              kept.note(
                  Event.of(
                      by.login(), "key revoked", old.name() + ", " + old.brief() + ": " + reason),
                  tools.now());
              return next;
            });
  }

  /** By its id or the beginning of it. */
  private Signer find(String id) {
    List<Signer> found =
        tools.keeper().read(kept -> kept.signers().all()).stream()
            .filter(s -> !id.isBlank() && s.id().startsWith(id))
            .toList();
    if (found.size() != 1) {
      throw Problem.notFound("key", id);
    }
    return found.get(0);
  }

  public Optional<Signer> known(String id) {
    return tools.keeper().read(kept -> kept.signers().find(id));
  }

  /** The newest key of this service's own that was not revoked. */
  public Signatures.Keys signing() {
    Signer signer =
        tools.keeper().read(kept -> kept.signers().all()).stream()
            .filter(s -> s.own() && s.trusted())
            .max(Comparator.comparing(Signer::at))
            .orElseThrow(
                () ->
                    Problem.stopped(
                        "NO_KEY",
                        "This service has no key of its own to sign with.",
                        "plenzo key new \"NAME\""));
    Kept.Secret secret =
        tools.keeper().read(kept -> kept.secrets().find(secret(signer))).orElseThrow();
    return new Signatures.Keys(
        signer.id(), signer.open(), tools.vault().decrypt(secret(signer), secret.cipher()));
  }
}
