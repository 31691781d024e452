package plenzo.core.impact;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.Need;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;

/**
 * What the rules about the case look at: read once, judged without asking anybody again.
 *
 * @param present the version that is recorded at the site
 * @param version what comes
 * @param base the newest version that both descend from; null when there is none
 * @param places the site's targets
 * @param leftOut components that the present version changed and that the incoming one holds older
 * @param releases release of each server's own software, by what it holds; missing where not told
 * @param extensions of the site's database, with their versions; empty when no version needs one
 * @param here versions of the other applications at the site
 * @param earlier versions that the release brings before this one, by application
 * @param comes all versions that the release brings, by application
 * @param sites every site of the application
 * @param others other promotions that are open at the site
 * @param drift parts and rows at the site that differ from what is recorded there, and stay
 */
public record CaseFacts(
    Promotion promotion,
    SemVer present,
    Version version,
    @Nullable Version base,
    SiteDelta delta,
    List<Place> places,
    List<ComponentKey> leftOut,
    Map<Holder, SemVer> releases,
    Map<String, String> extensions,
    Map<String, Neighbour> here,
    Map<String, Version> earlier,
    Map<String, Version> comes,
    List<SiteRecord> sites,
    List<Open> others,
    long drift) {
  public CaseFacts {
    places = List.copyOf(places);
    leftOut = List.copyOf(leftOut);
    releases = Map.copyOf(releases);
    extensions = Map.copyOf(extensions);
    here = Map.copyOf(here);
    earlier = Map.copyOf(earlier);
    comes = Map.copyOf(comes);
    sites = List.copyOf(sites);
    others = List.copyOf(others);
  }

  /**
   * A target of the site.
   *
   * @param shown its name for people
   * @param expected who it should be
   * @param found who its marker says it is
   * @param proves whether rows of its backups are restored to prove them
   * @param mustProve whether the stage asks for that
   * @param newer run that the target was changed by and that the records do not know; 0 for none
   */
  public record Place(
      Holder holder,
      String shown,
      TargetIdentity expected,
      Optional<TargetIdentity> found,
      boolean proves,
      boolean mustProve,
      long newer) {}

  /** Another application at the site and what it needs. */
  public record Neighbour(SemVer version, List<Need> needs) {
    public Neighbour {
      needs = List.copyOf(needs);
    }
  }

  /** Another open promotion, and how many components both have. */
  public record Open(Promotion promotion, long shared) {}
}
