package plenzo.server.web;

import java.time.Duration;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.CacheControl;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.servlet.config.annotation.ResourceHandlerRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;
import org.springframework.web.servlet.resource.EncodedResourceResolver;
import org.springframework.web.servlet.resource.PathResourceResolver;

/**
 * Serves the console: every address of a page answers with the one document, which finds its page
 * itself.
 */
@Controller
class Console {
  @GetMapping({
    "/",
    "/standing/**",
    "/waiting",
    "/promotions/**",
    "/releases/**",
    "/waves/**",
    "/runs/**",
    "/backups",
    "/calendar",
    "/news",
    "/figures",
    "/history/**",
    "/setup/**",
    "/you",
    "/packages/**",
    "/drafts/**",
    "/applications/**",
    "/versions/**",
    "/rollback/**",
    "/drift/**",
    "/compare/**",
    "/sign-in"
  })
  String page() {
    return "forward:/index.html";
  }

  /**
   * Files whose names change with what they hold are kept by browsers and not asked for again; the
   * document that names them is asked for each time.
   */
  @Configuration
  static class Kept implements WebMvcConfigurer {
    @Override
    public void addResourceHandlers(ResourceHandlerRegistry registry) {
      registry
          .addResourceHandler("/assets/**")
          .addResourceLocations("classpath:/static/assets/")
          .setCacheControl(CacheControl.maxAge(Duration.ofDays(365)).cachePublic().immutable())
          // compressed when the console was built
          .resourceChain(/* cacheResources= */ true)
          .addResolver(new EncodedResourceResolver())
          .addResolver(new PathResourceResolver());
      registry
          .addResourceHandler("/index.html")
          .addResourceLocations("classpath:/static/")
          .setCacheControl(CacheControl.noCache());
    }
  }

  /** Keeps event streams alive. */
  @Configuration
  static class Beat {
    Beat(EventHub events, ScheduledExecutorService schedule) {
      schedule.scheduleWithFixedDelay(events::beat, 10, 10, TimeUnit.SECONDS);
    }
  }
}
